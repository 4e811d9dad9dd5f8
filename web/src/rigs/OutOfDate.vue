<script setup lang="ts">
/** Targets in force that no longer fit what is known, wherever their numbers are shown. */
import Banner from '@/shared/Banner.vue'
import { useFrame } from './frame'

const { id, sheet } = useFrame()
</script>

<template>
  <Banner v-if="sheet.targets?.out_of_date.length">
    The target in force is out of date: {{ sheet.targets.out_of_date.join(', ') }}.
    <RouterLink :to="{ name: 'targets', params: { id } }">Look at it again</RouterLink>
  </Banner>
</template>
