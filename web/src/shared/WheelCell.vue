<script setup lang="ts">
/** A wheel: the band stood upright, the reading as water in it, the answer's shape and word. */
import { computed } from 'vue'
import { figureIn, scaleOf, type WheelState } from './scale'
import Shape from './Shape.vue'

const props = defineProps<{ state: WheelState; selected?: boolean }>()

const W = 52
const H = 68
const scale = computed(() =>
  scaleOf(
    { floor: props.state.floor, target: props.state.target, ceiling: props.state.ceiling },
    props.state.level === null ? [] : [props.state.level],
  ),
)
const y = (kpa: number) => H - scale.value.at(kpa) * H
const depth = computed(() =>
  props.state.change && props.state.target ? Math.abs(props.state.change) / props.state.target / 0.15 : 0.5,
)
const inside = computed(() => figureIn(props.state))
</script>

<template>
  <svg :width="W + 8" :height="H + 8" :viewBox="`-4 -4 ${W + 8} ${H + 8}`" class="block text-ink">
    <rect
      v-if="selected"
      x="-3"
      y="-3"
      :width="W + 6"
      :height="H + 6"
      rx="6"
      fill="none"
      class="stroke-teal"
      stroke-width="3"
    />
    <rect width="52" height="68" rx="4" class="fill-paper" />
    <rect
      v-if="state.level !== null"
      x="1"
      :y="y(state.level)"
      :width="W - 2"
      :height="Math.max(0, H - y(state.level) - 1)"
      class="fill-water"
    />
    <path
      v-if="state.floor !== null"
      :d="`M0 ${y(state.floor)}h6M${W} ${y(state.floor)}h-6`"
      stroke="currentColor"
      stroke-width="2.4"
    />
    <path
      v-if="state.target !== null"
      :d="`M${W} ${y(state.target) - 5}v10l-7 -5z`"
      class="fill-buoy"
      stroke="currentColor"
      stroke-width="0.8"
    />
    <rect
      width="52"
      height="68"
      rx="4"
      fill="none"
      stroke="currentColor"
      stroke-width="1.4"
      :stroke-dasharray="state.word === 'not_checked' && state.level === null && !state.text ? '4 3' : undefined"
    />
    <text
      v-if="inside"
      :x="W / 2"
      y="42"
      text-anchor="middle"
      class="fill-ink font-bold"
      :class="inside.length > 3 ? 'text-[16.5px]' : inside.length > 2 ? 'text-[18px]' : 'text-[20px]'"
    >
      {{ inside }}
    </text>
    <g v-if="state.level !== null" :transform="`translate(${W / 2 - 9} 46)`">
      <Shape :word="state.word" :depth="depth" :estimate="state.estimate ?? false" :size="18" />
    </g>
  </svg>
</template>
