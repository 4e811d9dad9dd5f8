<script setup lang="ts">
/** The depths of a tread through time, rib by rib, and its forecast to the limit. */
import { computed } from 'vue'
import type { Schemas } from '@/shared/api/client'
import Chart from '@/shared/Chart.vue'
import type { ChartLine } from '@/shared/chartOption'
import { depthIn, spokenDay, treadUnit } from '@/shared/units'

const props = defineProps<{ wear: Schemas['WearOut']; label: string }>()
const RIBS = [
  { name: 'inner', of: 'inner_mm', symbol: 'circle', color: 'teal' },
  { name: 'centre', of: 'centre_mm', symbol: 'rect', color: 'ink' },
  { name: 'outer', of: 'outer_mm', symbol: 'triangle', color: 'plum' },
] as const
const days = computed(() => [
  ...props.wear.points.map((p) => p.on),
  ...(props.wear.limit_on ? [props.wear.limit_on] : []),
])
const shown = (mm: number | null) => (mm === null ? null : Math.round(depthIn(mm) * 10) / 10)
const lines = computed<ChartLine[]>(() => {
  const ahead = props.wear.limit_on ? [null] : []
  const ribs = RIBS.map((r) => ({
    name: r.name,
    values: [...props.wear.points.map((p) => shown(p[r.of])), ...ahead],
    symbol: r.symbol,
    color: r.color,
  }))
  if (!props.wear.limit_on || props.wear.least_mm === null) return ribs
  const last = props.wear.points.length - 1
  const values = props.wear.points.map((_, i) => (i === last ? shown(props.wear.least_mm) : null))
  return [
    ...ribs,
    {
      name: 'as it goes on',
      values: [...values, shown(props.wear.limit_mm)],
      dash: 'dashed',
      symbol: 'diamond',
      color: 'buoy',
    },
  ]
})
</script>

<template>
  <figure>
    <Chart
      :label="label"
      along="Measured"
      kind="number"
      :places="days.map(spokenDay)"
      :days="days"
      :lines="lines"
      :across="[{ name: 'limit', kpa: shown(wear.limit_mm)!, toward: 'up' }]"
      :height="220"
    />
    <figcaption class="text-sm text-soft">
      Depth in {{ treadUnit() }}, dashed as it goes on if driven as so far.
    </figcaption>
  </figure>
</template>
