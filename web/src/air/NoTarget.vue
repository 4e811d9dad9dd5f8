<script setup lang="ts">
/** What the air does is told of a target: the one next step where there is none. */
import { useFrame } from '@/rigs/frame'

const { id } = useFrame()
</script>

<template>
  <section class="mt-8 max-w-md">
    <h2>No target in force</h2>
    <p class="mt-1 text-soft">What the air does is told of a target. Put one in force first.</p>
    <RouterLink :to="{ name: 'targets', params: { id } }" class="button button-next mt-4">Go to the target</RouterLink>
  </section>
</template>
