<script setup lang="ts">
/** The shape of an answer: it says by itself what its word says. `depth`: 0 to 1, how far off. */
import { computed, useId } from 'vue'
import { COLOR, type Word } from './words'

const props = withDefaults(defineProps<{ word: Word; depth?: number; estimate?: boolean; size?: number }>(), {
  depth: 0.5,
  estimate: false,
  size: 18,
})
const id = useId()
const tall = computed(() => 6 + 10 * Math.min(1, Math.max(0, props.depth)))
</script>

<template>
  <svg
    :width="size"
    :height="size"
    viewBox="0 0 20 20"
    :class="COLOR[word]"
    aria-hidden="true"
    fill="currentColor"
    class="shrink-0"
  >
    <defs>
      <pattern :id="`${id}-hatch`" width="3" height="3" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="1.6" height="3" fill="currentColor" />
      </pattern>
    </defs>
    <g :fill="estimate ? `url(#${id}-hatch)` : 'currentColor'" :stroke="estimate ? 'currentColor' : 'none'">
      <rect v-if="word === 'hold'" x="1" y="7.5" width="18" height="5" />
      <path v-else-if="word === 'add'" :d="`M1 ${10 - tall / 2}H19L10 ${10 + tall / 2}z`" />
      <path v-else-if="word === 'let_out'" :d="`M1 ${10 + tall / 2}H19L10 ${10 - tall / 2}z`" />
      <path v-else-if="word === 'stop'" d="M2 2H12L18 8V18H2z" />
      <rect
        v-else
        x="2.5"
        y="4.5"
        width="15"
        height="11"
        fill="none"
        stroke="currentColor"
        stroke-width="2"
        :stroke-dasharray="word === 'not_checked' ? '3 2.500' : undefined"
      />
    </g>
  </svg>
</template>
