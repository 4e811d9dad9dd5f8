<script setup lang="ts">
/** The pages of Look back. */
import { useFrame } from '@/rigs/frame'
import StagePages from '@/shared/StagePages.vue'

const { id } = useFrame()
const PAGES = [
  { name: 'lookback', words: 'Through time' },
  { name: 'morning-rig', words: 'This morning' },
]
</script>

<template>
  <StagePages class="mb-4" label="Pages of Look back" :rig="id" :pages="PAGES" />
</template>
