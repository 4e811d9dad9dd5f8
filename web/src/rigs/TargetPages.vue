<script setup lang="ts">
/** The pages of the target: the number, and what tires show that refines it. */
import StagePages from '@/shared/StagePages.vue'
import { useFrame } from './frame'

const { id } = useFrame()
const PAGES = [
  { name: 'targets', words: 'Target' },
  { name: 'chalk', words: 'Chalk trial' },
  { name: 'wear', words: 'Wear and rotation' },
  { name: 'sensors', words: 'Sensors and alarms' },
  { name: 'drive', words: 'Drive' },
  { name: 'lamp', words: 'Lamp came on' },
]
</script>

<template><StagePages class="mb-4" label="Pages of the target" :rig="id" :pages="PAGES" /></template>
