<script setup lang="ts">
/** What a gauge is: its kind, range and step, who keeps it. For a new one and for one that changes. */
import { computed } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { entriesOf } from '@/shared/entries'
import EntryFields from '@/shared/EntryFields.vue'
import Opening from '@/shared/Opening.vue'
import { pairs, useSession } from '@/shared/session'
import type { Particulars } from './particulars'

const props = defineProps<{ devices?: Schemas['DeviceOut'][] }>()
const form = defineModel<Particulars>({ required: true })
const { session } = useSession()
const { text, quantity, choice, chips } = entriesOf<Particulars>()
const entries = computed(() => [
  chips('kind', 'Kind', pairs(session.value?.gauge_kinds), { class: 'col-span-full' }),
  text('label', 'Label', { required: true, hint: 'As you will write on it' }),
  quantity('low_kpa', 'Range from', 'pressure'),
  quantity('high_kpa', 'Range to', 'pressure', { required: true, hint: 'The last number of its scale' }),
  quantity('resolution_kpa', 'Smallest step', 'pressure', {
    required: true,
    hint: 'Between two marks, or of its last digit',
  }),
])
const seldom = computed(() => [
  quantity('claimed_kpa', 'Accuracy claimed, either way', 'pressure'),
  text('keeper', 'Who keeps it'),
  text('battery', 'Battery'),
  text('every_days', 'Compare again after, days', { inputmode: 'numeric' }),
  choice(
    'radio',
    'Heard over the radio as',
    [
      { key: '', name: 'Not at all' },
      ...(props.devices ?? []).filter((d) => !d.bench).map((d) => ({ key: d.key, name: d.name })),
    ],
    { shown: Boolean(props.devices?.length) },
  ),
])
</script>

<template>
  <div>
    <div class="grid grid-cols-2 gap-4 sm:grid-cols-4">
      <EntryFields v-model="form" :entries="entries" />
    </div>
    <Opening class="mt-3 text-sm" label="More: what it claims, who keeps it, battery" :open="form.version !== ''">
      <div class="grid grid-cols-2 gap-4 text-base sm:grid-cols-4">
        <EntryFields v-model="form" :entries="seldom" />
      </div>
    </Opening>
    <div class="mt-3 flex flex-wrap gap-x-5 gap-y-2">
      <label class="flex items-center gap-2"
        ><input v-model="form.dual_foot" type="checkbox" class="size-5 accent-teal" /> A foot for inner duals</label
      >
      <label class="flex items-center gap-2"
        ><input v-model="form.sealed" type="checkbox" class="size-5 accent-teal" /> A sensor sealed to a fixed
        reference: reads low up high</label
      >
    </div>
  </div>
</template>
