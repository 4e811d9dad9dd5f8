<script setup lang="ts">
/** The pages of Look back. */
import { useFrame } from '@/rigs/frame'

const { id } = useFrame()
const PAGES = [
  { name: 'lookback', words: 'Through time' },
  { name: 'morning-rig', words: 'This morning' },
]
</script>

<template>
  <nav aria-label="Pages of Look back" class="mb-4 flex flex-wrap gap-1">
    <RouterLink
      v-for="p in PAGES"
      :key="p.name"
      :to="{ name: p.name, params: { id } }"
      class="rounded-md px-3 py-1.5"
      exact-active-class="bg-tealwash"
      >{{ p.words }}</RouterLink
    >
  </nav>
</template>
