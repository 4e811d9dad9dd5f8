<script setup lang="ts">
/** An axle as its label and its sidewalls say. */
import type { Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import QuantityField from '@/shared/QuantityField.vue'
import { refusalsUnder } from '@/shared/refusals'
import TextField from '@/shared/TextField.vue'
import { understood, type AxleForm } from './rigForm'
import SeldomFields from './SeldomFields.vue'

const a = defineModel<AxleForm>({ required: true })
const props = defineProps<{
  /** Counts from the front, beginning at 0. */
  at: number
  count: number
  name: string
  group: string
  size: Schemas['SizeRead'] | undefined
  /** What is wrong with a field, and what is odd about it. */
  caution: (field: string) => string | undefined
}>()
refusalsUnder(() => `axles.${props.at}`)
const emit = defineEmits<{ touched: []; same: []; remove: [] }>()
const WHEELS = [
  { key: 2 as const, name: 'Two, single' },
  { key: 4 as const, name: 'Four, dual' },
  { key: 1 as const, name: 'One' },
]
</script>

<template>
  <fieldset class="mt-7 border-t border-hairline pt-4">
    <legend class="float-left text-[1.07rem] font-bold">
      {{ name }}
      <span class="font-normal text-soft">{{ group === 'single axle' ? '' : group }}</span>
    </legend>
    <p class="flex justify-end gap-4 text-sm">
      <button v-if="at > 0" type="button" class="link" @click="emit('same')">Same tires as the first</button>
      <button v-if="count > 1" type="button" class="link" @click="emit('remove')">Remove</button>
    </p>
    <div class="mt-3 grid clear-both gap-4 sm:grid-cols-2 lg:grid-cols-4">
      <QuantityField
        v-if="at > 0"
        v-model="a.position_m"
        label="Behind the first axle"
        kind="length"
        name="position_m"
        @input="emit('touched')"
      />
      <QuantityField
        v-model="a.track_m"
        label="Track"
        kind="length"
        hint="Across, wheel center to center"
        name="track_m"
      />
      <ChoiceField
        v-model="a.wheels"
        label="Wheels"
        :choices="WHEELS"
        name="wheels"
        @update:model-value="emit('touched')"
      />
      <QuantityField
        v-model="a.gawr_kg"
        label="GAWR"
        kind="mass"
        name="gawr_kg"
        :hint="caution('gawr_kg') ?? 'Axle rating, from the label'"
      />
      <QuantityField
        v-model="a.placard_kpa"
        label="Placard pressure"
        kind="pressure"
        hint="For the size that is fitted"
        name="placard_kpa"
      />
      <TextField
        v-model="a.tire_size"
        upper
        label="Size on the sidewall"
        placeholder="245/70R19.5 135/133M"
        name="tire_size"
        :hint="caution('tire_size') ?? understood(size) ?? 'With its service description'"
      />
      <TextField
        v-model="a.load_index_single"
        label="Load index, single"
        inputmode="numeric"
        name="load_index_single"
        :hint="caution('load_index_single') ?? 'If not in the size'"
      />
      <TextField
        v-if="a.wheels === 4"
        v-model="a.load_index_dual"
        label="Load index, dual"
        inputmode="numeric"
        name="load_index_dual"
        :hint="caution('load_index_dual') ?? 'If not in the size'"
      />
      <TextField v-model="a.load_range" upper label="Load range" name="load_range" />
      <QuantityField
        v-model="a.sidewall_max_kpa"
        label="Sidewall maximum, cold"
        kind="pressure"
        name="sidewall_max_kpa"
        :hint="caution('sidewall_max_kpa') ?? 'The ceiling'"
      />
      <QuantityField
        v-model="a.max_load_single_kg"
        label="Sidewall load, single"
        kind="mass"
        name="max_load_single_kg"
      />
      <QuantityField
        v-if="a.wheels === 4"
        v-model="a.max_load_dual_kg"
        label="Sidewall load, dual"
        kind="mass"
        name="max_load_dual_kg"
      />
      <QuantityField v-model="a.wheel_max_kpa" label="Wheel's rated pressure" kind="pressure" name="wheel_max_kpa" />
      <TextField v-model="a.tire_make" label="Tire make and model" name="tire_make" />
    </div>
    <SeldomFields v-model="a" :count="count" :caution="caution" />
  </fieldset>
</template>
