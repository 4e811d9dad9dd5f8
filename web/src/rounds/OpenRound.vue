<script setup lang="ts">
/** Before a round: what speaks against reading now, in what it will be read, on the page or on paper. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import KitNotes from '@/shared/KitNotes.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import { say, spokenDay } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import Equipment from './Equipment.vue'
import QuickEntry from './QuickEntry.vue'
import RoundConditions from './RoundConditions.vue'
import WalkOrder from './WalkOrder.vue'

const emit = defineEmits<{ opened: [round: Schemas['RoundOut']] }>()
const { id, sheet } = useFrame()
const { may } = useSession()
/** What earlier rounds left to be seen to. */
const left = useQuery({
  queryKey: ['rig', id, 'left'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/rounds/left', { params: { path: { rig_id: id.value } } })),
})
const { save: back, message: backMessage } = useSave(async () => {
  const made = await answer(
    api.POST('/api/v1/rounds/{round_id}/back', {
      params: { path: { round_id: left.data.value!.put_away!.id } },
    }),
  )
  emit('opened', made)
  await refreshRig(id.value)
})
/** Just some wheels, for air after a rotation. */
const route = useRoute()
const router = useRouter()
const only = computed(() =>
  String(route.query.only ?? '')
    .split(',')
    .filter(Boolean),
)
const papering = ref(false)
const ordering = ref(false)

async function begin(body: Schemas['ConditionsIn'], done: (error?: unknown) => void) {
  try {
    const made = await answer(
      api.POST('/api/v1/rigs/{rig_id}/rounds', {
        params: { path: { rig_id: id.value } },
        body: { ...body, only: only.value },
      }),
    )
    if (only.value.length) await router.replace({ query: {} })
    emit('opened', made)
    await refreshRig(id.value)
    done()
  } catch (error) {
    done(error)
  }
}
</script>

<template>
  <h1>Open a round</h1>
  <p class="max-w-2xl text-soft">
    Every tire, the spares too, with one gauge, before the sun or the road has warmed them. Park level, brake on, wheels
    chocked.
  </p>
  <Banner v-if="left.data.value?.late" loud class="mt-4">
    {{ say(left.data.value.late.words) }}.
    <RouterLink :to="{ name: 'sealed', params: { id, round: left.data.value.late.round } }">Look at them</RouterLink>
  </Banner>
  <Banner v-if="left.data.value?.put_away" class="mt-4">
    The round of {{ spokenDay(left.data.value.put_away.opened_at) }} was abandoned by
    {{ left.data.value.put_away.abandoned_by }},
    {{ left.data.value.put_away.read || 'no' }}
    {{ left.data.value.put_away.read === 1 ? 'wheel' : 'wheels' }} read.
    <button v-if="left.data.value.put_away.may_bring_back" type="button" class="link" @click="back()">
      Bring it back
    </button>
    <Refusal :message="backMessage" />
  </Banner>
  <Banner v-if="!sheet.targets" class="mt-4">
    No target is in force: readings are kept, answers are not possible.
    <RouterLink v-if="may('targets')" :to="{ name: 'targets', params: { id } }">Go to the target</RouterLink>
  </Banner>
  <Banner v-else-if="sheet.targets.out_of_date.length" loud class="mt-4">
    The target is out of date: {{ sheet.targets.out_of_date.join(', ') }}. Put it in force again first: what held then
    may not carry the load now.
    <RouterLink v-if="may('targets')" :to="{ name: 'targets', params: { id } }">Go to the target</RouterLink>
  </Banner>
  <Banner v-if="only.length" class="mt-4">
    Just {{ only.join(', ') }}, for air after a rotation: it is no check of the whole rig.
    <RouterLink :to="{ name: 'rounds', params: { id } }">Read them all instead</RouterLink>
  </Banner>
  <WalkOrder v-if="ordering" class="mt-5" @done="ordering = false" />
  <QuickEntry v-if="papering" :key="`q${id}`" class="mt-5" @leave="papering = false" />
  <RoundConditions
    v-else-if="may('rounds')"
    :key="id"
    :ground="sheet.ground"
    class="mt-5"
    :air="sheet.air.air"
    :rig="id"
    :moved="only.length > 0"
    action="Open the round"
    @save="begin"
  >
    <a :href="`/api/v1/rigs/${id}/rounds/blank.pdf`" download>Blank sheet to print</a>
    <button type="button" class="link" @click="papering = true">Enter a filled sheet</button>
    <button type="button" class="link" @click="ordering = !ordering">Walking order</button>
  </RoundConditions>
  <p v-else class="mt-5 text-soft">You may look, not do rounds.</p>
  <template v-if="!papering">
    <KitNotes class="mt-8" :rig="id" use="round" />
    <Equipment class="mt-8" />
  </template>
</template>
