<script setup lang="ts">
/** Weighings over time: what drifted, and when the next is due. The table behind the chart says the same. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import { say, show, spokenDay } from '@/shared/units'
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
  if (!ends.value)
    return axles.map((a) => ({ name: a.name, at: points.map((p) => of(p, a.number)?.total_kg ?? null) }))
  return axles.flatMap((a) => [
    { name: `${a.name} left`, at: points.map((p) => of(p, a.number)?.left_kg ?? null) },
    { name: `${a.name} right`, at: points.map((p) => of(p, a.number)?.right_kg ?? null) },
  ])
})
const W = 720
const H = 240
const PAD = { left: 8, right: 120, top: 14, bottom: 30 }
const days = computed(() => (data.value?.points ?? []).map((p) => Date.parse(p.weighed_on) / 86_400_000))
const values = computed(() => lines.value.flatMap((l) => l.at.filter((v): v is number => v !== null)))
const xAt = (i: number) => {
  const [first, last] = [days.value[0]!, days.value.at(-1)!]
  const inner = W - PAD.left - PAD.right
  return PAD.left + (last > first ? ((days.value[i]! - first) / (last - first)) * inner : inner / 2)
}
const yAt = (kg: number) => {
  const [low, high] = [Math.min(...values.value) * 0.97, Math.max(...values.value) * 1.03]
  return PAD.top + (1 - (kg - low) / (high - low || 1)) * (H - PAD.top - PAD.bottom)
}
const path = (at: (number | null)[]) =>
  at
    .map((kg, i) => (kg === null ? '' : `${xAt(i).toFixed(1)},${yAt(kg).toFixed(1)}`))
    .filter(Boolean)
    .join(' ')
/** Labels at the end of their line, kept apart. */
const labels = computed(() => {
  const found = lines.value
    .map((l, n) => {
      const last = l.at.findLast((v) => v !== null)
      return last === undefined || last === null ? null : { name: l.name, n, y: yAt(last) + 4 }
    })
    .filter((l) => l !== null)
    .sort((a, b) => a.y - b.y)
  for (let i = 1; i < found.length; i++) found[i]!.y = Math.max(found[i]!.y, found[i - 1]!.y + 15)
  return found
})
const DASH = ['', '7 4', '2 4', '10 3 2 3', '1 3']
const signed = (kg: number) => `${kg > 0 ? '+' : ''}${show('mass', kg)}`
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
        <div class="relative overflow-x-auto">
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
                <td class="figure font-bold text-ink">{{ signed(c.change_kg) }}</td>
                <td class="figure">{{ share(c) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
      <p v-else class="mt-4 text-soft">
        One weighing in this load state so far: the next shows what changed.
      </p>

      <section v-if="data.points.length > 1 && values.length" class="mt-6 border-t border-hairline pt-4">
        <div class="flex flex-wrap items-baseline justify-between gap-4">
          <h2>{{ ends ? 'Each end' : 'Each axle' }} over time</h2>
          <button type="button" class="link text-sm" @click="ends = !ends">
            {{ ends ? 'Show axles' : 'Show ends' }}
          </button>
        </div>
        <svg
          :viewBox="`0 0 ${W} ${H}`"
          class="mt-2 w-full max-w-3xl text-ink"
          role="img"
          :aria-label="`Loads at ${data.points.length} weighings; the table below has the figures`"
        >
          <line
            :x1="PAD.left"
            :x2="W - PAD.right"
            :y1="H - PAD.bottom"
            :y2="H - PAD.bottom"
            class="stroke-hairline"
          />
          <g v-for="(l, n) in lines" :key="l.name" fill="none" stroke="currentColor">
            <polyline :points="path(l.at)" stroke-width="2" :stroke-dasharray="DASH[n % DASH.length]" />
            <template v-for="(kg, i) in l.at" :key="i">
              <circle
                v-if="kg !== null"
                :cx="xAt(i)"
                :cy="yAt(kg)"
                r="4"
                class="fill-paper"
                stroke-width="2"
              />
            </template>
          </g>
          <text
            v-for="l in labels"
            :key="l.n"
            :x="W - PAD.right + 12"
            :y="l.y"
            class="fill-ink text-[13px] font-medium"
          >
            {{ l.name }}
          </text>
          <text
            v-for="(p, i) in data.points"
            :key="p.id"
            :x="xAt(i)"
            :y="H - 10"
            :text-anchor="i === 0 ? 'start' : 'middle'"
            class="fill-soft text-[12px]"
          >
            {{ i === 0 || i === data.points.length - 1 ? spokenDay(p.weighed_on) : '' }}
          </text>
        </svg>
      </section>

      <section class="mt-6 border-t border-hairline pt-4">
        <h2>Every weighing</h2>
        <div class="relative overflow-x-auto">
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
