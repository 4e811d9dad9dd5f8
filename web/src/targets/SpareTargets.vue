<script setup lang="ts">
/** Spares with a pressure of their own, and whether they are kept a little over it. */
import type { Schemas } from '@/shared/api/client'
import { figure, say, show, toward, unitOf } from '@/shared/units'

defineProps<{ spares: Schemas['SpareTarget'][]; editing: boolean }>()
const over = defineModel<boolean>({ required: true })
</script>

<template>
  <section class="mt-6 border-t border-hairline pt-4" aria-label="Spares">
    <div v-for="s in spares" :key="s.number" class="flex flex-wrap items-baseline justify-between gap-x-6">
      <h2>{{ s.name }}</h2>
      <p v-if="s.target_kpa !== null" class="text-soft">
        its own pressure
        <span class="ml-3 text-4xl font-bold text-ink">{{
          figure('pressure', s.target_kpa, toward(s.target_kpa, s.ceiling_kpa))
        }}</span>
        {{ unitOf('pressure') }}
      </p>
      <p v-else class="font-semibold text-rust">{{ say(s.words) }}</p>
      <p v-if="s.offered_kpa !== null" class="w-full text-sm text-soft">
        Up to 5 % more, so that it still has its pressure when it is needed:
        {{ show('pressure', s.offered_kpa) }}.
      </p>
    </div>
    <label v-if="spares.some((s) => s.offered_kpa !== null)" class="mt-1 flex min-h-10 items-center gap-2">
      <input v-model="over" type="checkbox" class="size-5 accent-teal" :disabled="!editing" /> Keep spares 5 % over,
      under their ceiling
    </label>
  </section>
</template>
