<script setup lang="ts">
/** The pages of the air. */
import { useFrame } from '@/rigs/frame'
import OutOfDate from '@/rigs/OutOfDate.vue'

const { id } = useFrame()
const PAGES = [
  { name: 'air', words: 'Now and the dawns' },
  { name: 'trip', words: 'Trip' },
  { name: 'warm', words: 'Warm or elsewhere' },
  { name: 'readings', words: 'Readings' },
]
</script>

<template>
  <nav aria-label="Pages of Air" class="mb-4 flex flex-wrap gap-1">
    <RouterLink
      v-for="p in PAGES"
      :key="p.name"
      :to="{ name: p.name, params: { id } }"
      class="rounded-md px-3 py-1.5"
      exact-active-class="bg-tealwash"
      >{{ p.words }}</RouterLink
    >
  </nav>
  <OutOfDate class="mb-4" />
</template>
