<script setup lang="ts">
/** A two-dimensional code, drawn dark on white in every light: a camera reads it. */
import { computed } from 'vue'

const props = defineProps<{ rows: string[]; label: string }>()
const EDGE = 4
const size = computed(() => props.rows.length + 2 * EDGE)
const path = computed(() =>
  props.rows
    .flatMap((row, y) => [...row].map((dark, x) => (dark === '1' ? `M${x + EDGE} ${y + EDGE}h1v1h-1z` : '')))
    .join(''),
)
</script>

<template>
  <svg :viewBox="`0 0 ${size} ${size}`" class="shrink-0" role="img" :aria-label="label" shape-rendering="crispEdges">
    <rect :width="size" :height="size" fill="#fff" />
    <path :d="path" fill="#000" />
  </svg>
</template>
