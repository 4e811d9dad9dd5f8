<script setup lang="ts">
/** What a gauge is: its kind, range and step, who keeps it. For a new one and for one that changes. */
import { computed } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { entriesOf } from '@/shared/entries'
import EntryFields from '@/shared/EntryFields.vue'
import { pairs, useSession } from '@/shared/session'
import type { Particulars } from './particulars'

const props = defineProps<{ devices?: Schemas['DeviceOut'][] }>()
const form = defineModel<Particulars>({ required: true })
const { session } = useSession()
const { text, quantity, choice } = entriesOf<Particulars>()
const entries = computed(() => [
  text('label', 'Label'),
  choice('kind', 'Kind', pairs(session.value?.gauge_kinds)),
  quantity('low_kpa', 'Range from', 'pressure'),
  quantity('high_kpa', 'Range to', 'pressure'),
  quantity('resolution_kpa', 'Smallest step', 'pressure'),
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
