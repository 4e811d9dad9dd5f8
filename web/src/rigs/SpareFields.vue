<script setup lang="ts">
/** A spare as its sidewall says, with the pressure that is required of it. */
import { computed } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { entriesOf } from '@/shared/entries'
import EntryFields from '@/shared/EntryFields.vue'
import { refusalsUnder } from '@/shared/refusals'
import { understood, type SpareForm } from './rigForm'

const s = defineModel<SpareForm>({ required: true })
const props = defineProps<{
  at: number
  count: number
  size: Schemas['SizeRead'] | undefined
}>()
refusalsUnder(() => `spares.${props.at}`)
const emit = defineEmits<{ remove: [] }>()
const { text, quantity } = entriesOf<SpareForm>()
const entries = computed(() => [
  text('tire_size', 'Size on the sidewall', { upper: true, hint: understood(props.size) }),
  quantity('required_kpa', 'Required pressure', 'pressure', { hint: 'Its own, from placard or marking' }),
  quantity('sidewall_max_kpa', 'Sidewall maximum, cold', 'pressure'),
  text('tire_make', 'Tire make and model'),
])
</script>

<template>
  <fieldset class="mt-7 border-t border-hairline pt-4">
    <legend class="float-left text-[1.07rem] font-bold">Spare {{ count > 1 ? at + 1 : '' }}</legend>
    <p class="text-right text-sm">
      <button type="button" class="link" @click="emit('remove')">Remove</button>
    </p>
    <div class="mt-3 grid clear-both gap-4 sm:grid-cols-2 lg:grid-cols-4">
      <EntryFields v-model="s" :entries="entries" />
    </div>
  </fieldset>
</template>
