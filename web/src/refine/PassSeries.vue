<script setup lang="ts">
/** The passes of a trial as a small picture: both treads, the pressure under them. */
import type { Schemas } from '@/shared/api/client'
import { figure } from '@/shared/units'
import TreadPrint from './TreadPrint.vue'

defineProps<{ passes: Schemas['ChalkPassOut'][] }>()
</script>

<template>
  <ol v-if="passes.length" class="flex flex-wrap gap-x-5 gap-y-2" aria-label="Passes so far">
    <li v-for="(p, i) in passes" :key="p.uuid" :class="{ 'opacity-60': !p.counts }">
      <span class="flex gap-1.5">
        <TreadPrint :model-value="p.left" small still :label="`Pass ${i + 1}, left tire: ${p.left.join(', ')}`" />
        <TreadPrint :model-value="p.right" small still :label="`Pass ${i + 1}, right tire: ${p.right.join(', ')}`" />
      </span>
      <span class="block text-center font-semibold"
        >{{ figure('pressure', p.kpa) }}<template v-if="!p.counts">, void</template></span
      >
    </li>
  </ol>
</template>
