<script setup lang="ts">
/** Cold readings by temperature: the same air in the tire, in colder and warmer air. The thumb rule beside the law. */
import { computed, reactive } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import Chart from '@/shared/Chart.vue'
import type { ChartLine } from '@/shared/chartOption'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { provideRefusals } from '@/shared/refusals'
import { figure, show, toward, unitOf, type Entry } from '@/shared/units'
import { useWork } from '@/shared/useWork'
import AirPages from './AirPages.vue'
import NoTarget from './NoTarget.vue'

const { id, sheet } = useFrame()
const form = reactive({
  set_in_c: 20 as Entry,
  elevation_m: (sheet.value.air.air.elevation_m ?? 0) as Entry,
})
const work = useWork(
  computed(() => (sheet.value.targets ? { ...form } : null)),
  (now) => answer(api.POST('/api/v1/work/air/readings', { body: { rig: id.value, whole: false, ...now } })),
)
provideRefusals((name) => work.fields.value[name])
const places = computed(
  () => work.answer.value?.axles[0]?.readings.map((r) => show('temperature', r.temperature_c)) ?? [],
)
function lines(a: Schemas['AxleReadings']): ChartLine[] {
  return [
    { name: 'the law', values: a.readings.map((r) => r.kpa), dash: 'solid', symbol: 'circle', color: 'teal' },
    {
      name: 'thumb rule',
      values: a.parting.map((p) => p.thumb_kpa),
      dash: 'dashed',
      symbol: 'rect',
      color: 'plum',
    },
  ]
}
const across = (a: Schemas['AxleReadings']) => [
  ...(a.floor_kpa === null ? [] : [{ name: 'floor', kpa: a.floor_kpa, toward: 'up' as const }]),
  ...(a.ceiling_kpa === null ? [] : [{ name: 'ceiling', kpa: a.ceiling_kpa, toward: 'down' as const }]),
]
</script>

<template>
  <AirPages />
  <div class="flex flex-wrap items-start justify-between gap-4">
    <div>
      <h1>Cold readings by temperature</h1>
      <p class="text-soft">Set once, and nothing added: what a good gauge shows when it is colder or warmer.</p>
    </div>
    <RouterLink v-if="sheet.targets" :to="{ name: 'card', params: { id } }">On the pressure card</RouterLink>
  </div>
  <NoTarget v-if="!sheet.targets" />
  <template v-else>
    <div class="mt-5 grid max-w-md grid-cols-2 gap-4">
      <QuantityField v-model="form.set_in_c" label="Set in air of" kind="temperature" name="set_in_c" />
      <QuantityField v-model="form.elevation_m" label="Elevation" kind="length" whole name="elevation_m" />
    </div>
    <Refusal :message="Object.keys(work.fields.value).length ? '' : work.message.value" />
    <div v-if="work.answer.value" :class="{ stale: work.stale.value }">
      <div v-scrolls class="mt-5 overflow-x-auto">
        <table class="plain">
          <thead>
            <tr>
              <th scope="col">{{ unitOf('pressure') }}</th>
              <th v-for="p in places" :key="p" scope="col" class="figure">{{ p }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="a in work.answer.value.axles" :key="a.number">
              <th scope="row" class="font-semibold">{{ a.name }}</th>
              <td
                v-for="r in a.readings"
                :key="r.temperature_c"
                class="figure"
                :class="r.above_floor === false || r.below_ceiling === false ? 'text-rust' : ''"
              >
                {{ figure('pressure', r.kpa) }}
                <span v-if="r.above_floor === false" class="block text-xs">below floor</span>
                <span v-else-if="r.below_ceiling === false" class="block text-xs">above ceiling</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <section v-for="a in work.answer.value.axles" :key="a.number" class="mt-6 border-t border-hairline pt-4">
        <h2>{{ a.name }}, {{ show('pressure', a.target_kpa, toward(a.target_kpa, a.ceiling_kpa)) }}</h2>
        <Chart
          class="mt-1"
          :label="`${a.name}: pressure against temperature`"
          along="Air temperature"
          :places="places"
          :lines="lines(a)"
          :across="across(a)"
        />
        <p class="text-sm text-soft">
          The thumb rule parts from the law the most at {{ show('temperature', a.parts_most.temperature_c) }}: off by
          {{ show('pressure', Math.abs(a.parts_most.off_kpa)) }}.
        </p>
      </section>
    </div>
  </template>
</template>
