<script setup lang="ts">
/**
 * A rig to scale from above, nose left. What a stage puts on it (masses, handles) comes in the slot,
 * which gets the way from meters to the picture and back.
 */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { layOut, type Drawn } from './drawing'

const props = defineProps<{ vehicles: Drawn[]; label: string }>()
const box = ref<HTMLElement>()
const svg = ref<SVGSVGElement>()
const { width } = useElementSize(box)
const placed = computed(() => layOut(props.vehicles))
const EDGE = 0.5
const from = computed(() => Math.min(...placed.value.map((p) => Math.min(p.nose, p.at))) - EDGE)
const to = computed(() => Math.max(...placed.value.map((p) => Math.max(p.tail, p.at))) + EDGE)
const across = computed(() => Math.max(...placed.value.map((p) => p.width)) + 0.6)
const scale = computed(() => Math.min(92, Math.max(280, width.value || 600) / (to.value - from.value)))
const size = computed(() => ({
  w: (to.value - from.value) * scale.value,
  h: across.value * scale.value,
}))
/** Meters behind the first axle of all to the picture, and meters right of the center line. */
const px = (m: number) => (m - from.value) * scale.value
const py = (m: number) => (m + across.value / 2) * scale.value
/** A pointer to meters. */
function meters(event: PointerEvent): { x: number; y: number } {
  const at = svg.value!.getBoundingClientRect()
  const shrunk = at.width / size.value.w
  return {
    x: (event.clientX - at.left) / shrunk / scale.value + from.value,
    y: (event.clientY - at.top) / shrunk / scale.value - across.value / 2,
  }
}
const tires = (wheels: number) => (wheels === 1 ? [0] : wheels === 4 ? [-1, -0.72, 0.72, 1] : [-1, 1])
defineExpose({ meters })
</script>

<template>
  <div ref="box" v-scrolls="'The rig, drawn'" class="w-full overflow-x-auto">
    <svg
      ref="svg"
      :width="size.w"
      :height="size.h"
      :viewBox="`0 0 ${size.w} ${size.h}`"
      class="block max-w-full touch-none text-ink select-none"
      role="group"
      :aria-label="label"
    >
      <template v-for="p in placed" :key="p.id">
        <g fill="none" class="stroke-soft" stroke-width="1.5">
          <path
            :d="
              p.trailer
                ? `M${px(p.at - (p.coupler_m ?? 2.5))} ${py(0)}L${px(p.nose)} ${py(-p.width / 4)}M${px(p.at - (p.coupler_m ?? 2.5))} ${py(0)}L${px(p.nose)} ${py(p.width / 4)}`
                : ''
            "
          />
          <rect
            :x="px(p.nose)"
            :y="py(-p.width / 2)"
            :width="px(p.tail) - px(p.nose)"
            :height="p.width * scale"
            :rx="p.trailer ? 3 : 12"
            class="fill-paper"
          />
          <path
            v-if="!p.trailer"
            :d="`M${px(p.nose + 0.45)} ${py(-p.width / 2 + 0.2)}q${-0.28 * scale} ${(p.width / 2 - 0.2) * scale} 0 ${(p.width - 0.4) * scale}`"
          />
          <circle v-if="p.trailer" :cx="px(p.at - (p.coupler_m ?? 2.5))" :cy="py(0)" r="5" class="fill-ground" />
        </g>
        <g v-for="a in p.axles" :key="a.number">
          <line
            v-if="a.wheels > 1"
            :x1="px(p.at + a.drawn.position_m)"
            :x2="px(p.at + a.drawn.position_m)"
            :y1="py(-a.drawn.track_m / 2)"
            :y2="py(a.drawn.track_m / 2)"
            class="stroke-soft"
            stroke-width="3"
          />
          <rect
            v-for="t in tires(a.wheels)"
            :key="t"
            :x="px(p.at + a.drawn.position_m) - 0.36 * scale"
            :y="py((t * a.drawn.track_m) / 2) - 0.11 * scale"
            :width="0.72 * scale"
            :height="0.22 * scale"
            rx="2"
            :class="a.lift || a.open ? 'fill-paper stroke-ink' : 'fill-ink'"
            :stroke-dasharray="a.lift || a.open ? '3 2' : undefined"
          />
        </g>
      </template>
      <slot :px="px" :py="py" :scale="scale" :placed="placed" :meters="meters" :height="size.h" />
    </svg>
  </div>
</template>
