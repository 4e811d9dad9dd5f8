<script setup lang="ts">
/** The path of surfaces as a section through the land: each stretch hatched, the pressure stepping under it, its speed over it. */
import { useElementSize } from '@vueuse/core'
import { computed, ref, useId } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { figure, show, unitOf } from '@/shared/units'

interface Stretch {
  name: string
  pattern: Schemas['SurfaceOut']['pattern']
  speed_kmh: number | null
  road: boolean
  /** The number of the wheel that the section follows. */
  kpa: number | null
}
const props = defineProps<{ stretches: Stretch[]; at?: number | undefined; of: string; road: number | null }>()
const emit = defineEmits<{ pick: [at: number] }>()
const box = ref<HTMLElement>()
const { width } = useElementSize(box)
const id = useId()
const HIGH = 190
const LAND = 52
/** The road in front, then the chain. */
const all = computed(() => [
  { name: 'Road', pattern: 'plain' as const, speed_kmh: null, road: true, kpa: props.road },
  ...props.stretches,
])
const wide = computed(() => width.value / all.value.length)
const y = (kpa: number | null) => HIGH - LAND - 14 - 92 * ((kpa ?? 0) / (props.road || 1))
const path = computed(() =>
  all.value.map((s, i) => `${i ? 'L' : 'M'}${i * wide.value} ${y(s.kpa)}L${(i + 1) * wide.value} ${y(s.kpa)}`).join(''),
)
/** A land that rises and falls a little, the softer the more. */
const RISE = { plain: 0, strokes: 3, dots: 6, dense: 10 }
function land(i: number): string {
  const rise = RISE[all.value[i]!.pattern]
  const [x0, x1, top] = [i * wide.value, (i + 1) * wide.value, HIGH - LAND + 12]
  const q = (x1 - x0) / 4
  return `M${x0} ${top}Q${x0 + q} ${top - rise} ${x0 + 2 * q} ${top}T${x1} ${top}V${HIGH}H${x0}Z`
}
const words = computed(() =>
  all.value
    .map(
      (s) =>
        `${s.name} ${s.kpa === null ? '' : show('pressure', s.kpa)}${s.speed_kmh === null ? '' : `, at most ${show('speed', s.speed_kmh, 'down')}`}`,
    )
    .join('; '),
)
</script>

<template>
  <div ref="box" class="overflow-hidden border-b border-hairline">
    <svg v-if="width" :width="width" :height="HIGH" role="img" :aria-label="`${of}: ${words}`" class="block">
      <defs>
        <pattern :id="`${id}strokes`" width="14" height="10" patternUnits="userSpaceOnUse">
          <path d="M1 3h6M8 8h5" stroke="currentColor" stroke-width="1.5" />
        </pattern>
        <pattern :id="`${id}dots`" width="10" height="10" patternUnits="userSpaceOnUse">
          <circle cx="3" cy="3" r="1.2" fill="currentColor" />
          <circle cx="8" cy="8" r="1.2" fill="currentColor" />
        </pattern>
        <pattern :id="`${id}dense`" width="6" height="6" patternUnits="userSpaceOnUse">
          <circle cx="1.5" cy="1.5" r="1.2" fill="currentColor" />
          <circle cx="4.5" cy="4.5" r="1.2" fill="currentColor" />
        </pattern>
      </defs>
      <g v-for="(s, i) in all" :key="i">
        <path :d="land(i)" class="fill-paper stroke-soft" />
        <path
          v-if="s.pattern !== 'plain'"
          :d="land(i)"
          :fill="`url(#${id}${s.pattern})`"
          class="text-soft"
          stroke="none"
        />
        <rect
          v-if="at === i - 1"
          :x="i * wide + 2"
          y="2"
          :width="wide - 4"
          :height="HIGH - 4"
          fill="none"
          class="stroke-buoy"
          stroke-width="3"
        />
      </g>
      <path :d="`${path}V${HIGH - LAND + 12}H0Z`" class="fill-water" opacity="0.5" stroke="none" />
      <path :d="path" fill="none" class="stroke-ink" stroke-width="3" />
      <g v-for="(s, i) in all" :key="`t${i}`">
        <text
          v-if="s.kpa !== null"
          :x="(i + 0.5) * wide"
          :y="y(s.kpa) - 8"
          text-anchor="middle"
          class="fill-ink text-xl font-bold"
        >
          {{ figure('pressure', s.kpa, 'up') }}
        </text>
        <text
          v-if="s.speed_kmh !== null"
          :x="(i + 0.5) * wide"
          :y="y(s.kpa) + 20"
          text-anchor="middle"
          class="fill-ink text-sm"
        >
          {{ show('speed', s.speed_kmh, 'down') }}
        </text>
        <rect
          :x="(i + 0.5) * wide - Math.min(wide / 2 - 3, s.name.length * 4.2 + 6)"
          :y="HIGH - 27"
          :width="2 * Math.min(wide / 2 - 3, s.name.length * 4.2 + 6)"
          height="22"
          class="fill-paper"
        />
        <text :x="(i + 0.5) * wide" :y="HIGH - 11" text-anchor="middle" class="fill-ink text-sm font-semibold">
          {{ s.name }}
        </text>
        <rect
          v-if="i"
          :x="i * wide"
          y="0"
          :width="wide"
          :height="HIGH"
          fill="transparent"
          class="cursor-pointer"
          @click="emit('pick', i - 1)"
        />
      </g>
    </svg>
    <p class="sr-only">{{ unitOf('pressure') }}</p>
  </div>
</template>
