<script setup lang="ts">
/** A rig: the work line over it, its plan beside it, one stage of the work in it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, toRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import Banner from '@/shared/Banner.vue'
import Awaited from '@/shared/Awaited.vue'
import AlarmStrip from './AlarmStrip.vue'
import GroundStrip from './GroundStrip.vue'
import OutOfService from './OutOfService.vue'
import WorkLine from './WorkLine.vue'
import { missing } from '@/shared/api/client'
import Overloads from '@/shared/Overloads.vue'
import RigPlan from '@/shared/RigPlan.vue'
import { useSession } from '@/shared/session'
import { say, shortly, spokenDay, system } from '@/shared/units'
import type { WheelState } from '@/shared/scale'
import { provideFrame } from './frame'
import { sheet as sheetQuery, type Sheet } from './queries'

const props = defineProps<{ id: number }>()
const id = toRef(props, 'id')
const route = useRoute()
const { data, error, refetch } = useQuery(sheetQuery(id))
const { may } = useSession()
const frame = provideFrame(
  id,
  computed(() => data.value as Sheet),
)

/** Unless a stage draws its own, the wheels show the last sealed round. */
const lastRound = computed<Record<string, WheelState>>(() => {
  void system.value
  const drawn: Record<string, WheelState> = {}
  for (const tire of data.value?.last_round?.tires ?? []) {
    // What was read is no word of it any more.
    if (tire.overtaken) {
      drawn[tire.code] = {
        floor: null,
        target: null,
        ceiling: tire.ceiling_kpa,
        level: null,
        word: 'not_checked',
        words: tire.overtaken,
      }
      continue
    }
    drawn[tire.code] = {
      floor: tire.floor_kpa,
      target: tire.here_kpa,
      ceiling: tire.ceiling_kpa,
      level: tire.kpa,
      word: tire.answer.word,
      words: shortly(tire.answer),
      change: tire.answer.change_kpa,
      estimate: tire.answer.estimate,
    }
  }
  return drawn
})
/** A tow vehicle stands with all that hangs on it; a trailer, on its own pages, by itself. */
const vehicles = computed(() => {
  const rig = data.value!.rig
  return rig.head === null && frame.whole.value ? data.value!.train : [rig]
})
const behind = computed(() => (data.value?.rig.head ? data.value.train[0]! : null))
const caption = computed(() => {
  if (frame.caption.value) return frame.caption.value
  const at = data.value?.last_round?.sealed_at
  return at ? `read ${spokenDay(at)}` : 'not read yet'
})
watch(
  () => [route.name, props.id],
  () => {
    frame.states.value = null
    frame.standing.value = []
    frame.whole.value = false
    frame.caption.value = ''
    frame.picked.value = null
    frame.carried.value = null
  },
  { flush: 'sync' },
)
watch(
  () => [route.meta.title, data.value?.rig.name],
  ([page, name]) => name && (document.title = `${String(name)}: ${String(page)} · Gentle Ballast`),
  { immediate: true, flush: 'post' },
)
/** What is made up, and what is fitted and not described, is said on every screen of the rig. */
const stamps = computed(() => [...(data.value?.targets?.stamps ?? []), data.value?.air.air.stamp ?? ''].filter(Boolean))
const unlike = computed(() => (data.value?.rig.axles ?? []).flatMap((a) => a.unlike))
</script>

<template>
  <Awaited v-if="!data || missing(error)" what="The rig" :error="error" @again="refetch()" />
  <template v-else>
    <WorkLine :id="id" :stages="data.stages" />
    <GroundStrip v-if="route.name !== 'ground'" :id="id" :ground="data.ground" />
    <AlarmStrip v-if="route.name !== 'sensors'" :id="id" :alarms="data.alarms" />
    <div class="lg:flex">
      <aside
        class="shrink-0 border-hairline px-4 py-2 lg:sticky lg:top-0 lg:max-h-screen lg:w-[356px] lg:self-start lg:overflow-y-auto lg:px-5 lg:py-4"
        aria-label="Rig plan"
      >
        <div class="mb-2 flex items-baseline justify-between gap-3">
          <h2 class="truncate max-lg:sr-only">{{ vehicles.map((v) => v.name).join(' + ') }}</h2>
          <p class="shrink-0 text-sm text-soft">{{ caption }}</p>
          <!-- On a phone a number off a display is two taps: here, and where it is kept. -->
          <RouterLink
            v-if="data.heard && may('rounds')"
            :to="{ name: 'sensors', params: { id }, hash: '#glance' }"
            class="ml-auto flex min-h-11 items-center lg:hidden"
            >Off the display</RouterLink
          >
        </div>
        <p v-if="behind" class="mb-2 text-sm text-soft">
          Hitched behind
          <RouterLink :to="{ name: String(route.name), params: { id: behind.id } }">{{ behind.name }}</RouterLink>
        </p>
        <RigPlan
          :vehicles="vehicles"
          :order="vehicles.length > 1 || data.train.length === 1 ? data.walk : undefined"
          :standing="frame.standing.value"
          :states="frame.states.value ?? lastRound"
          :selected="frame.picked.value"
          :label="`Wheels of ${data.rig.name}`"
          @pick="frame.picked.value = $event"
          @carry="(from, to) => (frame.carried.value = { from, to })"
        />
      </aside>
      <main
        id="stage"
        class="min-w-0 flex-1 border-hairline px-4 py-5 lg:min-h-[calc(100vh-7.2rem)] lg:border-l lg:px-7"
      >
        <OutOfService v-if="data.out" :rig="id" :out="data.out" class="mb-5" />
        <Overloads
          v-if="data.weighing && route.name !== 'weighing' && route.name !== 'targets'"
          class="mb-5"
          :over="data.weighing.loads.over"
          :caution="data.weighing.loads.caution"
        />
        <div v-if="stamps.length || unlike.length" class="mb-4">
          <div v-if="stamps.length" class="flex flex-wrap items-center gap-x-5 gap-y-2 max-lg:beside:max-w-[46vw]">
            <p v-for="s in stamps" :key="s" class="stamp">{{ s }}</p>
          </div>
          <p v-for="(u, k) in unlike" :key="k" class="mt-1 font-semibold text-rust">{{ say(u) }}</p>
        </div>
        <Banner v-if="data.laid_up && !(route.name === 'rounds' && data.open_round)" class="mb-4"
          >{{ say(data.laid_up.words) }}.</Banner
        >
        <RouterView :key="id" />
      </main>
    </div>
  </template>
</template>
