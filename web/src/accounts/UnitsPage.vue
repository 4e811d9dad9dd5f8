<script setup lang="ts">
/** What each quantity is shown in, chosen by itself: on every screen, print and file of the person's. */
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import Segments from '@/shared/Segments.vue'
import { takeSession, useSession } from '@/shared/session'
import { show, unitOf, type Kind } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const { session } = useSession()
const NAMES: Record<string, string> = {
  pressure: 'Pressure',
  mass: 'Weight',
  temperature: 'Temperature',
  length: 'Length, and with it distance, speed and volume',
}
/** One value of each, so that it is seen what is chosen. */
const SAMPLES: [Kind, number][] = [
  ['pressure', 640],
  ['mass', 3150],
  ['temperature', -4],
  ['length', 6.1],
  ['length', 1310],
  ['distance', 84_200],
]
const kinds = computed(() => Object.entries(session.value?.unit_choices ?? {}) as [Kind, string[]][])
const { save, message } = useSave(async (kind: string, unit: string) => {
  const each = Object.fromEntries(kinds.value.map(([k]) => [k, k === kind ? unit : unitOf(k)]))
  takeSession(await answer(api.PUT('/api/v1/session/units', { body: { units: null, each } })))
})
</script>

<template>
  <main id="stage" class="mx-auto max-w-2xl px-4 py-6 lg:px-7">
    <h1>Units</h1>
    <p class="text-soft">
      Yours, on every screen, print and file. Any other may always be typed with its name: 6.2 bar.
    </p>
    <div class="mt-5 space-y-4">
      <Segments
        v-for="[kind, units] in kinds"
        :key="kind"
        :model-value="unitOf(kind)"
        :label="NAMES[kind]!"
        :choices="units.map((u) => ({ key: u, name: u }))"
        @update:model-value="save(kind, $event)"
      />
    </div>
    <Refusal :message="message" />
    <p class="mt-6 border-t border-hairline pt-4 text-lg" aria-label="As it is shown">
      {{ SAMPLES.map(([k, v]) => show(k, v)).join(' · ') }}
    </p>
  </main>
</template>
