<script setup lang="ts">
/** Under the wheels: what is kept where, what the round is read in and how that is mended, and putting it away. */
import { computed, ref } from 'vue'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import { isWritten } from '@/shared/entryStore'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import { clock, show, unitOf } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import Working from '@/shared/Working.vue'
import RoundConditions from './RoundConditions.vue'
import type { Typing } from './useEntry'
import type { OpenRound, Wheel } from './useRound'

const props = defineProps<{
  here: OpenRound
  typing: Typing
  round: NonNullable<OpenRound['round']>
  wheel: Wheel
  canSpeak: boolean
}>()
const large = defineModel<boolean>('large', { required: true })
const aloud = defineModel<boolean>('aloud', { required: true })
const { may } = useSession()
const mending = ref(false)
async function mend(body: Schemas['ConditionsIn'], done: (error?: unknown) => void) {
  const path = { round_id: props.round.id }
  try {
    props.here.take(await answer(api.PUT('/api/v1/rounds/{round_id}', { params: { path }, body })))
    mending.value = false
    await queries.invalidateQueries({ queryKey: ['round', props.round.id, 'offline'] })
    done()
  } catch (error) {
    done(error)
  }
}
const abandon = useSave(async () => {
  await answer(api.DELETE('/api/v1/rounds/{round_id}', { params: { path: { round_id: props.round.id } } }))
  await refreshRig(props.here.id)
})
const allWritten = computed(() => props.here.waiting.every(isWritten))
/** One's own round, or anybody's with the right to. */
const mayAbandon = computed(() => may('rounds') && (props.round.opened_by_id === props.here.me?.person || may('rigs')))
const lastStored = computed(() =>
  props.here.wheels
    .flatMap((w) => [w.before, w.after])
    .flatMap((r) => (r ? [r.at] : []))
    .sort()
    .at(-1),
)
</script>

<template>
  <p class="mt-2 text-sm" :class="here.waiting.length ? 'font-semibold text-rust' : 'text-soft'" role="status">
    <template v-if="here.waiting.length">
      {{ here.waiting.length }} {{ here.waiting.length === 1 ? 'entry is' : 'entries are' }}
      {{ allWritten ? 'kept in this browser' : 'on this page alone' }} and not yet on the server.
      {{ allWritten ? 'Sent as soon as it answers.' : 'Leave it open: sent as soon as the server answers.' }}
    </template>
    <template v-else-if="lastStored"
      >Kept on the server, {{ clock(lastStored) }}. Pressures in {{ unitOf('pressure') }}.</template
    >
    <template v-else>Nothing read yet.</template>
  </p>
  <div class="mt-4 flex flex-wrap gap-x-8 gap-y-2 border-t border-hairline pt-3">
    <Opening v-if="typing.shown" label="Working of the answer" class="min-w-64 flex-1"
      ><Working :lines="[...wheel.target_working, ...typing.shown.working]"
    /></Opening>
    <button type="button" class="link self-start py-1" :aria-expanded="mending" @click="mending = !mending">
      {{ round.place || 'Air by hand' }}, {{ show('temperature', round.outside_c) }},
      {{
        typeof round.shop_c === 'number'
          ? `in a shop of ${show('temperature', round.shop_c)}`
          : `stood ${round.standing_h} h`
      }}: mend
    </button>
    <label class="flex items-center gap-2 self-start py-1"
      ><input v-model="large" type="checkbox" class="size-5 accent-teal" /> Large figures</label
    >
    <label v-if="canSpeak" class="flex items-center gap-2 self-start py-1"
      ><input v-model="aloud" type="checkbox" class="size-5 accent-teal" /> Read aloud</label
    >
    <button v-if="mayAbandon" type="button" class="link self-start py-1" @click="abandon.save()">
      Abandon the round
    </button>
    <p v-if="round.unchecked" class="text-sm font-medium text-rust">
      Its targets come from a table that nobody checked a second time.
    </p>
  </div>
  <Refusal :message="abandon.message.value" />
  <slot />
  <RoundConditions
    v-if="mending"
    :ground="here.sheet.ground"
    class="mt-4"
    :air="here.sheet.air.air"
    :rig="here.id"
    :round="round"
    action="Mend, answer again"
    @save="mend"
  >
    <button type="button" class="link" @click="mending = false">Leave as it is</button>
  </RoundConditions>
</template>
