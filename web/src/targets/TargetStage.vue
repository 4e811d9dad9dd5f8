<script setup lang="ts">
/** One pressure for each axle: the band with floor, target and ceiling, every school beside it, the working under it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import DraftBack from '@/shared/DraftBack.vue'
import { useFrame } from '@/rigs/frame'
import { wearOf } from '@/rigs/queries'
import NextStep from '@/rigs/NextStep.vue'
import TargetPages from '@/rigs/TargetPages.vue'
import { answer, api } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import Opening from '@/shared/Opening.vue'
import Overloads from '@/shared/Overloads.vue'
import Refusal from '@/shared/Refusal.vue'
import Segments from '@/shared/Segments.vue'
import { provideRefusals } from '@/shared/refusals'
import type { WheelState } from '@/shared/scale'
import { useSession } from '@/shared/session'
import { coarse, say, spokenDay, system, toward, unitOf } from '@/shared/units'
import AxleBand from './AxleBand.vue'
import ChalkResults from './ChalkResults.vue'
import EarlierTargets from './EarlierTargets.vue'
import SpareTargets from './SpareTargets.vue'
import { useTargets } from './useTargets'
import WayFields from './WayFields.vue'

const { id, sheet, states, caption } = useFrame()
const { may } = useSession()
const rig = computed(() => sheet.value.rig)
const inForce = computed(() => sheet.value.targets)

const wear = useQuery(wearOf(id))
const voices = (number: number) => (wear.data.value?.voices ?? []).filter((v) => v.number === number)
const samples = useQuery({ queryKey: ['samples'], queryFn: () => answer(api.GET('/api/v1/tables/samples')) })
const targets = useTargets()
const answered = computed(() => targets.answered)
provideRefusals(targets.no)

watch(
  () => [answered.value, system.value],
  () => {
    const drawn: Record<string, WheelState> = {}
    for (const wheel of rig.value.wheels) {
      const axle = answered.value?.axles.find((a) => a.number === wheel.axle)
      const spare = wheel.axle === null ? answered.value?.spares[Number(wheel.code.slice(1)) - 1] : undefined
      const target = (axle ?? spare)?.target_kpa ?? null
      drawn[wheel.code] = {
        floor: axle?.floor_kpa ?? null,
        target,
        ceiling: (axle ?? spare)?.ceiling_kpa ?? null,
        level: null,
        word: 'not_checked',
        words: target === null ? 'none' : unitOf('pressure'),
        ...(target === null
          ? {}
          : {
              text: coarse('pressure', target, toward(target, (axle ?? spare)?.ceiling_kpa ?? null)),
            }),
      }
    }
    states.value = drawn
    caption.value = 'the target of each tire'
  },
  { immediate: true },
)

const tablesFor = (i: number) =>
  (answered.value?.fitting[i] ?? []).map((t) => ({
    key: t.id as number | null,
    name: t.name,
    ...(t.unchecked ? { note: 'not checked by a second person' } : {}),
  }))
const sampleFor = (size: string) => samples.data.value?.find((s) => s.size === size.split(' ')[0] && !s.taken)

const OWN: Record<string, string> = {
  school: 'where it comes from',
  reserve: 'reserve',
  edge: 'edge allowance',
  between: 'between columns',
  step: 'step',
  spare_over: 'spares',
}
const differs = computed(() => (answered.value?.way.own ?? []).flatMap((n) => OWN[n] ?? []))
const chosenTables = computed(() => answered.value?.tables ?? targets.form.tables)
const lastLevel = (number: number) => {
  const wheels = rig.value.wheels.filter((w) => w.axle === number).map((w) => w.code)
  const levels = (sheet.value.last_round?.tires ?? [])
    .filter((t) => wheels.includes(t.code) && t.kpa !== null)
    .map((t) => t.kpa!)
  return levels.length ? Math.min(...levels) : null
}
</script>

<template>
  <TargetPages />
  <div class="flex flex-wrap items-start justify-between gap-4">
    <div>
      <h1>One pressure for each axle</h1>
      <p v-if="inForce" class="text-soft">
        In force since {{ spokenDay(inForce.put_at) }}, by {{ inForce.put_by }},
        {{ inForce.weighed_on ? `from the weighing of ${spokenDay(inForce.weighed_on)}` : 'without a weighing' }},
        {{ inForce.load_state }}
      </p>
      <p v-else class="text-soft">The load gives a floor, tire and wheel give a ceiling, the target lies between.</p>
    </div>
    <div class="flex flex-wrap items-center gap-4">
      <RouterLink v-if="inForce" :to="{ name: 'card', params: { id } }">Pressure card</RouterLink>
      <button
        v-if="may('targets')"
        type="button"
        class="button"
        :class="{ 'button-next': targets.any && !targets.same }"
        :disabled="targets.busy || !targets.any || targets.same || targets.stale"
        @click="targets.put()"
      >
        {{ targets.same ? 'In force' : 'Put in force' }}
      </button>
      <NextStep v-if="targets.same" after="targets" />
    </div>
  </div>
  <DraftBack :taken="targets.draft.taken" @away="targets.draft.throwAway()" />
  <Refusal :message="targets.refused" />
  <Banner v-if="inForce?.out_of_date.length" class="mt-4"
    >Out of date: {{ inForce.out_of_date.join(', ') }}. Look at it again, then put it in force.</Banner
  >
  <Overloads v-if="answered" class="mt-4" :over="answered.over" :caution="answered.caution" />

  <Refusal :message="targets.choicesRefused" />
  <div v-if="answered" class="mt-3 flex flex-wrap items-center gap-x-6 gap-y-2">
    <template v-for="s in answered.stamps" :key="s">
      <p v-if="!inForce?.stamps.includes(s)" class="stamp">{{ s }}</p>
    </template>
    <p v-for="u in answered.unchecked" :key="u" class="text-sm font-medium text-rust">
      Not checked by a second person: {{ u }}. <RouterLink to="/tables">Tables</RouterLink>
    </p>
  </div>
  <ul v-if="answered?.notes.length" class="mt-2">
    <li v-for="(n, k) in answered.notes" :key="k" class="font-medium text-rust">{{ say(n) }}</li>
  </ul>

  <div :class="{ stale: targets.stale }">
    <AxleBand
      v-for="(t, i) in answered?.axles ?? []"
      :key="t.number"
      v-model:own="targets.form.own[i]!"
      v-model:trial="targets.form.trials[i]!"
      v-model:range="targets.form.ranges[i]!"
      :table="chosenTables[i] ?? null"
      :rig="id"
      :editing="may('targets')"
      :target="t"
      :weighed="Boolean(sheet.weighing)"
      :size="rig.axles[i]?.tire_size.split(' ')[0] ?? ''"
      :level="lastLevel(t.number)"
      :tables="tablesFor(i)"
      :table-message="targets.no(`tables.${i}`)"
      :own-message="targets.no(`own.${i}`)"
      :trial-message="targets.no(`trials.${i}`)"
      :range-message="targets.no(`ranges.${i}.to`)"
      @update:table="targets.form.tables[i] = $event"
    >
      <template #voice>
        <p v-for="v in voices(t.number)" :key="v.words.text" class="mt-1 text-sm">
          The tread at {{ v.wheels.join(', ') }}: {{ say(v.words) }}
          <RouterLink :to="{ name: 'wear', params: { id } }">Wear</RouterLink>
        </p>
      </template>
      <template v-if="may('tables')">
        <p class="text-sm text-soft">No table for {{ rig.axles[i]?.tire_size.split(' ')[0] }} here yet.</p>
        <div class="mt-1 flex flex-wrap gap-2">
          <RouterLink :to="{ name: 'table-new', query: { size: rig.axles[i]?.tire_size, rig: id } }" class="button"
            >Enter its table</RouterLink
          >
          <button
            v-if="sampleFor(rig.axles[i]!.tire_size)"
            type="button"
            class="button"
            @click="targets.take(sampleFor(rig.axles[i]!.tire_size)!.key)"
          >
            Take the sample
          </button>
        </div>
      </template>
    </AxleBand>
    <SpareTargets
      v-if="answered?.spares.length"
      v-model="targets.form.spare_over"
      :editing="may('targets')"
      :spares="answered.spares"
    />
  </div>
  <section v-if="!sheet.weighing" class="mt-8 max-w-xl border-t border-hairline pt-4">
    <h2>Not weighed yet</h2>
    <p class="mt-1 text-soft">
      A target hangs on the load: weigh the rig, by its ends if you can. Until then the placard's pressures stand in,
      said to be provisional, or what is enough for the axle's rating.
    </p>
    <Segments
      v-if="rig.axles.some((a) => a.placard_light_kpa !== null) && answered && may('targets')"
      :model-value="answered.light_row"
      class="mt-3"
      label="As it travels now, by the placard's row for"
      :choices="[
        { key: false, name: 'Full load' },
        { key: true, name: 'Light load' },
      ]"
      @update:model-value="targets.chooseRow($event)"
    />
    <RouterLink :to="{ name: 'weighing', params: { id } }" class="button mt-4">Weigh it</RouterLink>
  </section>
  <section class="mt-8 border-t border-hairline pt-4" aria-label="What it hangs on">
    <WayFields v-model="targets.form" :disabled="!may('targets')">
      <p v-if="differs.length && may('targets')" class="mt-2 text-sm text-soft">
        Other than in the workspace: {{ differs.join(', ') }}.
        <button type="button" class="link" @click="targets.back()">Back to the workspace's way</button>
      </p>
    </WayFields>
  </section>
  <section class="mt-8 border-t border-hairline pt-4">
    <ChalkResults @changed="targets.changed()" />
    <Opening label="Earlier targets"><EarlierTargets /></Opening>
  </section>
  <Banner class="mt-8 text-sm">
    Pressures come from the tire's and vehicle's makers and local law; where there is doubt a licensed tire service
    decides. The sidewall's maximum is a ceiling, never advice.
  </Banner>
</template>
