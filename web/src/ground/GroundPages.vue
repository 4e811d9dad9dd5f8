<script setup lang="ts">
/** The pages of this stage. */
import { useFrame } from '@/rigs/frame'
import StagePages from '@/shared/StagePages.vue'

const { id } = useFrame()
const PAGES = [
  { name: 'ground', words: 'Plan' },
  { name: 'kit', words: 'Kit and valves' },
]
</script>

<template><StagePages class="mb-4" :rig="id" :pages="PAGES" label="Pages of the ground" /></template>
