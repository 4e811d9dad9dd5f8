<script setup lang="ts">
/** What a new edition changes on the rigs, before it is taken into use. */
import type { Schemas } from '@/shared/api/client'
import { say, show } from '@/shared/units'

defineProps<{ lines: Schemas['Changed'][] }>()
</script>

<template>
  <section class="mt-5 border-t border-hairline pt-4">
    <h2>What it changes</h2>
    <p v-if="!lines.length" class="text-soft">No target in force comes from this table.</p>
    <ul v-else>
      <li
        v-for="l in lines"
        :key="`${l.rig}-${l.number}`"
        class="flex flex-wrap justify-between gap-x-6 border-t border-hairline py-1.5"
      >
        <span>{{ l.rig_name }}, {{ l.name.toLowerCase() }}</span>
        <span v-if="l.then_kpa === null" class="font-semibold text-rust">{{ say(l.words) }}</span>
        <span v-else class="figure"
          >{{ l.now_kpa === null ? 'no pressure' : show('pressure', l.now_kpa, 'up') }} →
          <b>{{ show('pressure', l.then_kpa, 'up') }}</b>{{
            l.now_kpa !== null && Math.abs(l.then_kpa - l.now_kpa) < 0.05 ? ', the same' : ''
          }}</span
        >
      </li>
    </ul>
    <p class="mt-1 text-sm text-soft">
      Targets in force keep the edition they came from, and are out of date once this one is saved.
    </p>
  </section>
</template>
