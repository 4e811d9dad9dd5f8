<script setup lang="ts">
/** What the columns of a file mean, how they are written, what it calls the wheels, and what is wrong with it. */
import { computed } from 'vue'
import type { Schemas } from './api/client'
import type { FileLook } from './useColumns'
import ChoiceField from './ChoiceField.vue'
import Refusal from './Refusal.vue'
import TextField from './TextField.vue'

/** So many faults are told one by one. */
const MOST = 50
const props = defineProps<{
  look: FileLook
  wheels: { key: string; name: string }[]
  met: string[]
  refused: string
}>()
const chosen = defineModel<
  Omit<Required<Schemas['ColumnsIn']>, 'columns'> & { columns: Required<Schemas['ColumnIn']>[] }
>({ required: true })
const means = computed(() =>
  Object.entries(props.look.meanings).map(([key, name]) => ({
    key: key as FileLook['columns'][number]['means'],
    name,
  })),
)
const orders = computed(() => Object.entries(props.look.orders).map(([key, name]) => ({ key: key as 'ymd', name })))
const named = computed(() => chosen.value.columns.some((c) => c.means === 'wheel'))
const heights = computed(() => chosen.value.columns.some((c) => c.means === 'elevation'))
/** What the file calls wheels: those that are none, and those that were said already. */
const calls = computed(() =>
  [...new Set([...Object.keys(chosen.value.names), ...props.look.strange, ...props.met])].sort(),
)
</script>

<template>
  <div class="mt-2 grid grid-cols-2 items-start gap-4 sm:grid-cols-4">
    <ChoiceField v-model="chosen.order" label="Dates are written" :choices="orders" />
    <TextField v-model="chosen.zone" label="Time zone" />
    <ChoiceField
      v-model="chosen.pressure_unit"
      label="Pressures in"
      :choices="(['psi', 'kPa', 'bar'] as const).map((key) => ({ key, name: key }))"
    />
    <ChoiceField
      v-model="chosen.temperature_unit"
      label="Temperatures in"
      :choices="(['°F', '°C'] as const).map((key) => ({ key, name: key }))"
    />
    <ChoiceField
      v-if="heights"
      v-model="chosen.length_unit"
      label="Elevations in"
      :choices="(['ft', 'm'] as const).map((key) => ({ key, name: key }))"
    />
    <slot name="about" />
  </div>
  <h3 class="mt-4">What its columns mean</h3>
  <ol class="mt-1 grid grid-cols-2 items-start gap-4 sm:grid-cols-4">
    <li v-for="(head, i) in look.heads" :key="i" class="min-w-0">
      <ChoiceField v-model="chosen.columns[i]!.means" :label="head || `Column ${i + 1}`" :choices="means" />
      <ChoiceField
        v-if="!named && ['pressure', 'temperature'].includes(chosen.columns[i]!.means)"
        v-model="chosen.columns[i]!.wheel"
        class="mt-1"
        :label="`${head}: of`"
        :choices="[{ key: '', name: 'Which wheel?' }, ...wheels]"
      />
      <span class="block truncate text-sm text-soft">{{ look.samples[i]?.filter(Boolean).join(', ') }}</span>
    </li>
  </ol>
  <div v-if="calls.length" class="mt-3">
    <h3>What it calls the wheels</h3>
    <div class="mt-1 grid grid-cols-2 gap-3 sm:grid-cols-4">
      <ChoiceField
        v-for="s in calls"
        :key="s"
        :model-value="chosen.names[s] ?? '?'"
        :label="s"
        :choices="[{ key: '?', name: 'Which wheel?' }, { key: '', name: 'Left out' }, ...wheels]"
        @update:model-value="$event === '?' || (chosen.names = { ...chosen.names, [s]: $event })"
      />
    </div>
  </div>
  <Refusal :message="look.refusal || refused" />
  <p v-if="look.strange_rigs.length" class="mt-2 font-medium text-rust">
    No rig here is called {{ look.strange_rigs.map((name) => name || '(nothing)').join(', ') }}.
  </p>
  <ul v-if="look.faults.length" class="mt-2">
    <li v-for="f in look.faults.slice(0, MOST)" :key="f.row" class="text-rust">Row {{ f.row }}: {{ f.words }}</li>
    <li v-if="look.faults.length > MOST" class="text-rust">
      And {{ (look.faults.length - MOST).toLocaleString('en-US') }} more at least.
    </li>
  </ul>
</template>
