<script setup lang="ts">
/** The pages of the air. */
import { useFrame } from '@/rigs/frame'
import OutOfDate from '@/rigs/OutOfDate.vue'
import StagePages from '@/shared/StagePages.vue'

const { id } = useFrame()
const PAGES = [
  { name: 'air', words: 'Now and the dawns' },
  { name: 'trip', words: 'Trip' },
  { name: 'warm', words: 'Warm or elsewhere' },
  { name: 'readings', words: 'Readings' },
]
</script>

<template>
  <StagePages class="mb-4" label="Pages of Air" :rig="id" :pages="PAGES" />
  <OutOfDate class="mb-4" />
</template>
