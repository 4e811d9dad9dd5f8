<script setup lang="ts">
/** ln(load) against ln(pressure): the cells of a table on the line that they draw, a suspicious one open and ringed. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { figure, show } from '@/shared/units'

const props = defineProps<{ grid: Schemas['GridOut'] }>()
const box = ref<HTMLElement>()
const { width } = useElementSize(box)
const HEIGHT = 190
const PAD = { left: 56, right: 90, top: 12, bottom: 28 }

const rows = computed(() =>
  (['single', 'dual'] as const).flatMap((row) => {
    const loads = row === 'single' ? props.grid.single_kg : props.grid.dual_kg
    return loads ? [{ row, loads, curve: props.grid.curves.find((c) => c.row === row) }] : []
  }),
)
const scale = computed(() => {
  const xs = props.grid.steps_kpa.map(Math.log)
  const ys = rows.value.flatMap((r) => r.loads.map(Math.log))
  const [x0, x1] = [Math.min(...xs), Math.max(...xs)]
  const [y0, y1] = [Math.min(...ys), Math.max(...ys)]
  const wide = Math.max(1, width.value - PAD.left - PAD.right)
  const high = HEIGHT - PAD.top - PAD.bottom
  return {
    x: (kpa: number) => PAD.left + ((Math.log(kpa) - x0) / (x1 - x0 || 1)) * wide,
    y: (kg: number) => PAD.top + (1 - (Math.log(kg) - y0) / (y1 - y0 || 1)) * high,
    ends: [Math.exp(x0), Math.exp(x1)] as const,
    loads: [Math.exp(y0), Math.exp(y1)] as const,
  }
})
const odd = (row: string, i: number) => props.grid.suspicions.find((s) => s.row === row && s.index === i)
const lineOf = (curve: Schemas['CurveOut']) => {
  const s = scale.value
  const load = (kpa: number) => Math.exp(curve.start + curve.exponent * Math.log(kpa))
  return `M${s.x(s.ends[0])} ${s.y(load(s.ends[0]))}L${s.x(s.ends[1])} ${s.y(load(s.ends[1]))}`
}
const spoken = computed(
  () =>
    `Curve of the table: ${rows.value
      .map((r) => `${r.row}, exponent ${r.curve ? figure('number', r.curve.exponent) : 'unknown'}`)
      .join(
        '; ',
      )}. ${props.grid.suspicions.length ? `${props.grid.suspicions.length} cells off it.` : 'Every cell lies on it.'}`,
)
</script>

<template>
  <div ref="box" class="w-full">
    <svg v-if="width > 0" :width="width" :height="HEIGHT" role="img" :aria-label="spoken" class="block text-ink">
      <rect
        :x="PAD.left"
        :y="PAD.top"
        :width="Math.max(0, width - PAD.left - PAD.right)"
        :height="HEIGHT - PAD.top - PAD.bottom"
        class="fill-paper stroke-hairline"
      />
      <g v-for="r in rows" :key="r.row">
        <path
          v-if="r.curve"
          :d="lineOf(r.curve)"
          fill="none"
          class="stroke-soft"
          stroke-width="1.5"
          :stroke-dasharray="r.row === 'dual' ? '5 4' : undefined"
        />
        <template v-for="(kg, i) in r.loads" :key="i">
          <template v-if="odd(r.row, i)">
            <circle
              :cx="scale.x(grid.steps_kpa[i]!)"
              :cy="scale.y(kg)"
              r="8"
              fill="none"
              class="stroke-rust"
              stroke-width="2.5"
            />
            <path
              :d="`M${scale.x(grid.steps_kpa[i]!)} ${scale.y(kg)}V${scale.y(odd(r.row, i)!.suggested_kg)}`"
              class="stroke-rust"
              stroke-width="2"
            />
            <circle
              :cx="scale.x(grid.steps_kpa[i]!)"
              :cy="scale.y(odd(r.row, i)!.suggested_kg)"
              r="3"
              class="fill-rust"
            />
          </template>
          <rect
            v-else-if="r.row === 'dual'"
            :x="scale.x(grid.steps_kpa[i]!) - 3.5"
            :y="scale.y(kg) - 3.5"
            width="7"
            height="7"
            class="fill-teal"
          />
          <circle v-else :cx="scale.x(grid.steps_kpa[i]!)" :cy="scale.y(kg)" r="4" class="fill-teal" />
        </template>
        <text :x="width - PAD.right + 8" :y="scale.y(r.loads.at(-1)!) + 4" class="fill-ink text-[13px]">
          {{ r.row }}
        </text>
      </g>
      <text :x="PAD.left - 6" :y="PAD.top + 10" text-anchor="end" class="fill-soft text-[12px]">
        {{ show('mass', scale.loads[1]) }}
      </text>
      <text :x="PAD.left - 6" :y="HEIGHT - PAD.bottom" text-anchor="end" class="fill-soft text-[12px]">
        {{ show('mass', scale.loads[0]) }}
      </text>
      <text :x="PAD.left" :y="HEIGHT - 8" class="fill-soft text-[12px]">
        {{ show('pressure', scale.ends[0]) }}
      </text>
      <text :x="width - PAD.right" :y="HEIGHT - 8" text-anchor="end" class="fill-soft text-[12px]">
        {{ show('pressure', scale.ends[1]) }}
      </text>
    </svg>
  </div>
</template>
