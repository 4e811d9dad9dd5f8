<script setup lang="ts">
/** What a gauge reads over the truth, by what it shows, with the band of its uncertainty. Outside the comparison dashed. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { coarse, figure, show, system, unitOf } from '@/shared/units'

const props = defineProps<{ curve: Schemas['CurvePointOut'][]; pairs: Schemas['ComparedPairOut'][] }>()
const box = ref<HTMLElement>()
const { width } = useElementSize(box)
const HEIGHT = 230
const LEFT = 52
const BOTTOM = 34
const TOP = 12

const reach = computed(() => {
  const most = Math.max(
    ...props.curve.map((p) => Math.abs(p.error_kpa) + p.uncertainty_kpa),
    ...props.pairs.map((p) => Math.abs(p.reading_kpa - p.reference_kpa)),
    3,
  )
  return most * 1.15
})
const low = computed(() => props.curve[0]?.reading_kpa ?? 0)
const high = computed(() => props.curve.at(-1)?.reading_kpa ?? 1)
const x = (kpa: number) => LEFT + ((kpa - low.value) / (high.value - low.value)) * Math.max(0, width.value - LEFT - 14)
const y = (kpa: number) => TOP + ((reach.value - kpa) / (2 * reach.value)) * (HEIGHT - TOP - BOTTOM)
const path = (points: { x: number; y: number }[]) => points.map((p, i) => `${i ? 'L' : 'M'}${p.x} ${p.y}`).join('')
const band = computed(() => {
  const up = props.curve.map((p) => ({ x: x(p.reading_kpa), y: y(p.error_kpa + p.uncertainty_kpa) }))
  const down = [...props.curve].reverse().map((p) => ({ x: x(p.reading_kpa), y: y(p.error_kpa - p.uncertainty_kpa) }))
  return `${path([...up, ...down])}Z`
})
const line = (outside: boolean, from: 'low' | 'high' | 'in') => {
  const inside = props.curve.filter((p) => !p.outside)
  const first = inside[0]?.reading_kpa ?? 0
  const last = inside.at(-1)?.reading_kpa ?? 0
  const kept = props.curve.filter((p) =>
    from === 'in' ? !p.outside : from === 'low' ? p.reading_kpa <= first : p.reading_kpa >= last,
  )
  return outside || from === 'in' ? path(kept.map((p) => ({ x: x(p.reading_kpa), y: y(p.error_kpa) }))) : ''
}
const ticks = computed(() => {
  void system.value
  const count = width.value < 420 ? 3 : 6
  return Array.from({ length: count }, (_, i) => low.value + ((high.value - low.value) * i) / (count - 1))
})
const sides = computed(() => [reach.value / 1.15, 0, -reach.value / 1.15])
const words = computed(() =>
  props.curve
    .filter((p) => !p.outside)
    .map((p) => `at ${show('pressure', p.reading_kpa)} off by ${show('pressure', p.error_kpa)}`)
    .join(', '),
)
</script>

<template>
  <div ref="box">
    <svg :height="HEIGHT" width="100%" role="img" :aria-label="`Correction curve: ${words}`">
      <line :x1="LEFT" :x2="width - 14" :y1="y(0)" :y2="y(0)" stroke="var(--ink)" />
      <g v-for="s in sides" :key="s" class="text-[12px]" fill="var(--soft)">
        <text :x="LEFT - 8" :y="y(s) + 4" text-anchor="end">{{ figure('pressure', s) }}</text>
        <line v-if="s" :x1="LEFT" :x2="width - 14" :y1="y(s)" :y2="y(s)" stroke="var(--hairline)" />
      </g>
      <path :d="band" fill="var(--water)" opacity="0.75" />
      <path :d="line(false, 'in')" fill="none" stroke="var(--teal)" stroke-width="2.5" />
      <path :d="line(true, 'low')" fill="none" stroke="var(--teal)" stroke-width="2" stroke-dasharray="5 4" />
      <path :d="line(true, 'high')" fill="none" stroke="var(--teal)" stroke-width="2" stroke-dasharray="5 4" />
      <path
        v-for="(p, i) in pairs"
        :key="i"
        :d="
          p.direction === 'down'
            ? `M${x(p.reading_kpa) - 5} ${y(p.reading_kpa - p.reference_kpa) - 4}h10l-5 9z`
            : `M${x(p.reading_kpa) - 5} ${y(p.reading_kpa - p.reference_kpa) + 4}h10l-5 -9z`
        "
        fill="var(--ink)"
      />
      <g class="text-[12px]" fill="var(--soft)">
        <text v-for="t in ticks" :key="t" :x="x(t)" :y="HEIGHT - 14" text-anchor="middle">
          {{ coarse('pressure', t) }}
        </text>
      </g>
    </svg>
    <p class="text-sm text-soft">
      Shown on the gauge, {{ unitOf('pressure') }}. Wedges up: read going up; wedges down: coming down. Dashed: outside
      what was compared.
    </p>
  </div>
</template>
