<script setup lang="ts">
/** What of a tire lies on the ground, to scale: an ellipse, the road's dashed beside it. */
import { computed } from 'vue'
import type { Schemas } from '@/shared/api/client'

const props = defineProps<{ now: Schemas['Footprint']; road: Schemas['Footprint'] }>()
const scale = computed(() =>
  Math.min(
    60 / Math.max(props.now.length_cm, props.road.length_cm),
    40 / Math.max(props.now.width_cm, props.road.width_cm),
  ),
)
const ellipse = (of: Schemas['Footprint']) => ({
  rx: (of.length_cm * scale.value) / 2,
  ry: (of.width_cm * scale.value) / 2,
})
const words = computed(() => `Footprint ${(props.now.area_cm2 / props.road.area_cm2).toFixed(1)} times the road's`)
</script>

<template>
  <svg width="66" height="44" viewBox="-33 -22 66 44" role="img" :aria-label="words">
    <ellipse v-bind="ellipse(now)" class="fill-water stroke-ink" />
    <ellipse v-bind="ellipse(road)" fill="none" class="stroke-ink" stroke-dasharray="3 3" />
  </svg>
</template>
