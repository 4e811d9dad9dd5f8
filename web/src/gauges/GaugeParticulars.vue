<script setup lang="ts">
/** What a gauge is: its kind, range and step, who keeps it. For a new one and for one that changes. */
import type { Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import QuantityField from '@/shared/QuantityField.vue'
import { pairs, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import type { Particulars } from './particulars'

defineProps<{ devices?: Schemas['DeviceOut'][] }>()
const form = defineModel<Particulars>({ required: true })
const { session } = useSession()
</script>

<template>
  <div>
    <div class="grid grid-cols-2 gap-4 sm:grid-cols-4">
      <TextField v-model="form.label" label="Label" name="label" />
      <ChoiceField v-model="form.kind" label="Kind" :choices="pairs(session?.gauge_kinds)" name="kind" />
      <QuantityField v-model="form.low_kpa" label="Range from" kind="pressure" name="low_kpa" />
      <QuantityField v-model="form.high_kpa" label="Range to" kind="pressure" name="high_kpa" />
      <QuantityField v-model="form.resolution_kpa" label="Smallest step" kind="pressure" name="resolution_kpa" />
      <QuantityField
        v-model="form.claimed_kpa"
        label="Accuracy claimed, either way"
        kind="pressure"
        name="claimed_kpa"
      />
      <TextField v-model="form.keeper" label="Who keeps it" name="keeper" />
      <TextField v-model="form.battery" label="Battery" name="battery" />
      <TextField v-model="form.every_days" label="Compare again after, days" inputmode="numeric" name="every_days" />
      <ChoiceField
        v-if="devices?.length"
        v-model="form.radio"
        label="Heard over the radio as"
        :choices="[
          { key: '', name: 'Not at all' },
          ...devices.filter((d) => !d.bench).map((d) => ({ key: d.key, name: d.name })),
        ]"
      />
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
