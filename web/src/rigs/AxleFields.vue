<script setup lang="ts">
/** An axle as its label and its sidewalls say. */
import { computed } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { entriesOf } from '@/shared/entries'
import EntryFields from '@/shared/EntryFields.vue'
import { refusalsUnder } from '@/shared/refusals'
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
const WHEELS: { key: AxleForm['wheels']; name: string }[] = [
  { key: 2, name: 'Two, single' },
  { key: 4, name: 'Four, dual' },
  { key: 1, name: 'One' },
]
const { text, quantity, choice } = entriesOf<AxleForm>()
const entries = computed(() => {
  const dual = a.value.wheels === 4
  const { caution } = props
  return [
    quantity('position_m', 'Behind the first axle', 'length', { shown: props.at > 0 }),
    quantity('track_m', 'Track', 'length', { hint: 'Across, wheel center to center' }),
    choice('wheels', 'Wheels', WHEELS),
    quantity('gawr_kg', 'GAWR', 'mass', { hint: caution('gawr_kg') ?? 'Axle rating, from the label' }),
    quantity('placard_kpa', 'Placard pressure', 'pressure', { hint: 'For the size that is fitted' }),
    text('tire_size', 'Size on the sidewall', {
      upper: true,
      placeholder: '245/70R19.5 135/133M',
      hint: caution('tire_size') ?? understood(props.size) ?? 'With its service description',
    }),
    text('load_index_single', 'Load index, single', {
      inputmode: 'numeric',
      hint: caution('load_index_single') ?? 'If not in the size',
    }),
    text('load_index_dual', 'Load index, dual', {
      inputmode: 'numeric',
      hint: caution('load_index_dual') ?? 'If not in the size',
      shown: dual,
    }),
    text('load_range', 'Load range', { upper: true }),
    quantity('sidewall_max_kpa', 'Sidewall maximum, cold', 'pressure', {
      hint: caution('sidewall_max_kpa') ?? 'The ceiling',
    }),
    quantity('max_load_single_kg', 'Sidewall load, single', 'mass'),
    quantity('max_load_dual_kg', 'Sidewall load, dual', 'mass', { shown: dual }),
    quantity('wheel_max_kpa', "Wheel's rated pressure", 'pressure'),
    text('tire_make', 'Tire make and model'),
  ]
})
/** The outline is the person's own from then on. */
const typed = (name: string) => ['position_m', 'wheels'].includes(name) && emit('touched')
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
      <EntryFields v-model="a" :entries="entries" @typed="typed" />
    </div>
    <SeldomFields v-model="a" :count="count" :caution="caution" />
  </fieldset>
</template>
