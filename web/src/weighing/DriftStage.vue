<script setup lang="ts">
/** Weighings over time: what drifted, and when the next is due. The table behind the chart says the same. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import Chart from '@/shared/Chart.vue'
import type { ChartLine } from '@/shared/chartOption'
import { say, show, signedAmount, spokenDay } from '@/shared/units'
import WeighPages from './WeighPages.vue'

const { id, sheet } = useFrame()
const { data } = useQuery({
  queryKey: ['rig', id, 'drift'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/drift', { params: { path: { rig_id: id.value } } })),
})
type Point = Schemas['DriftPointOut']
const ends = ref(false)
/** A line for each axle, or for each of its ends. */
const lines = computed(() => {
  const points = data.value?.points ?? []
  const axles = sheet.value.rig.axles
  const of = (p: Point, n: number) => p.axles.find((a) => a.number === n)
  if (!ends.value) return axles.map((a) => ({ name: a.name, at: points.map((p) => of(p, a.number)?.total_kg ?? null) }))
  return axles.flatMap((a) => [
    { name: `${a.name} left`, at: points.map((p) => of(p, a.number)?.left_kg ?? null) },
    { name: `${a.name} right`, at: points.map((p) => of(p, a.number)?.right_kg ?? null) },
  ])
})
const SYMBOLS = ['circle', 'rect', 'triangle', 'diamond'] as const
const COLORS = ['teal', 'ink', 'plum', 'buoy'] as const
const charted = computed<ChartLine[]>(() =>
  lines.value.map((l, i) => ({
    name: l.name,
    values: l.at,
    symbol: SYMBOLS[i % SYMBOLS.length]!,
    color: COLORS[i % COLORS.length]!,
  })),
)
const values = computed(() => lines.value.flatMap((l) => l.at.filter((v) => v !== null)))
const share = (c: Schemas['DriftChangeOut']) =>
  c.before_kg ? `${c.change_kg > 0 ? '+' : ''}${((c.change_kg / c.before_kg) * 100).toFixed(1)} %` : ''
</script>

<template>
  <WeighPages />
  <h1>Drift</h1>
  <p class="text-soft">Loads creep upward unnoticed. Weigh once a year, and after anything big.</p>
  <template v-if="data">
    <p class="mt-3 text-lg" :class="data.due ? 'font-bold text-rust' : 'font-semibold'">
      {{ say(data.due_words) }}
    </p>
    <p v-if="!data.points.length" class="mt-4">
      <RouterLink :to="{ name: 'weighing', params: { id } }" class="button button-next">Weigh it</RouterLink>
    </p>
    <template v-else>
      <section v-if="data.changes.length" class="mt-5 border-t border-hairline pt-4">
        <h2>Since {{ spokenDay(data.since!) }}, in the same load state</h2>
        <div v-scrolls class="relative overflow-x-auto">
          <table class="plain mt-1 max-w-2xl">
            <thead>
              <tr>
                <th>What</th>
                <th class="figure">Then</th>
                <th class="figure">Now</th>
                <th class="figure">Change</th>
                <th class="figure"><span class="sr-only">Share</span></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(c, i) in data.changes" :key="i" :class="{ 'text-soft': c.end !== 'whole' }">
                <td :class="c.end === 'whole' ? 'font-semibold' : 'pl-4'">
                  {{ c.name }}{{ c.end === 'whole' ? '' : `, ${c.end}` }}
                </td>
                <td class="figure">{{ show('mass', c.before_kg) }}</td>
                <td class="figure text-ink">{{ show('mass', c.now_kg) }}</td>
                <td class="figure font-bold text-ink">{{ signedAmount('mass', c.change_kg) }}</td>
                <td class="figure">{{ share(c) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
      <p v-else class="mt-4 text-soft">One weighing in this load state so far: the next shows what changed.</p>

      <section v-if="data.points.length > 1 && values.length" class="mt-6 border-t border-hairline pt-4">
        <div class="flex flex-wrap items-baseline justify-between gap-4">
          <h2>{{ ends ? 'Each end' : 'Each axle' }} over time</h2>
          <button type="button" class="link text-sm" @click="ends = !ends">
            {{ ends ? 'Show axles' : 'Show ends' }}
          </button>
        </div>
        <Chart
          class="mt-2 max-w-3xl"
          label="Loads over time"
          along="Weighed"
          kind="mass"
          :places="data.points.map((p) => spokenDay(p.weighed_on))"
          :days="data.points.map((p) => p.weighed_on)"
          :lines="charted"
        />
      </section>

      <section class="mt-6 border-t border-hairline pt-4">
        <h2>Every weighing</h2>
        <div v-scrolls class="relative overflow-x-auto">
          <table class="plain mt-1">
            <thead>
              <tr>
                <th>Weighed</th>
                <th>Load state</th>
                <th class="figure">Odometer</th>
                <th v-for="l in lines" :key="l.name" class="figure">{{ l.name }}</th>
                <th class="figure">Gross</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(p, i) in data.points" :key="p.id">
                <td class="whitespace-nowrap">{{ spokenDay(p.weighed_on) }}</td>
                <td>{{ p.load_state }}</td>
                <td class="figure">{{ p.odometer_km === null ? '–' : show('distance', p.odometer_km) }}</td>
                <td v-for="l in lines" :key="l.name" class="figure">
                  {{ l.at[i] === null ? '–' : show('mass', l.at[i]!) }}
                </td>
                <td class="figure font-bold">
                  {{ p.total_kg === null ? 'unknown' : show('mass', p.total_kg) }}
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
    </template>
  </template>
</template>
