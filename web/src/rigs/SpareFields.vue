<script setup lang="ts">
/** A spare as its sidewall says, with the pressure that is required of it. */
import type { Schemas } from '@/shared/api/client'
import QuantityField from '@/shared/QuantityField.vue'
import { refusalsUnder } from '@/shared/refusals'
import TextField from '@/shared/TextField.vue'
import { understood, type SpareForm } from './rigForm'

const s = defineModel<SpareForm>({ required: true })
const props = defineProps<{
  at: number
  count: number
  size: Schemas['SizeRead'] | undefined
}>()
refusalsUnder(() => `spares.${props.at}`)
const emit = defineEmits<{ remove: [] }>()
</script>

<template>
  <fieldset class="mt-7 border-t border-hairline pt-4">
    <legend class="float-left text-[1.07rem] font-bold">Spare {{ count > 1 ? at + 1 : '' }}</legend>
    <p class="text-right text-sm">
      <button type="button" class="link" @click="emit('remove')">Remove</button>
    </p>
    <div class="mt-3 grid clear-both gap-4 sm:grid-cols-2 lg:grid-cols-4">
      <TextField v-model="s.tire_size" upper label="Size on the sidewall" :hint="understood(size)" name="tire_size" />
      <QuantityField
        v-model="s.required_kpa"
        label="Required pressure"
        kind="pressure"
        hint="Its own, from placard or marking"
        name="required_kpa"
      />
      <QuantityField
        v-model="s.sidewall_max_kpa"
        label="Sidewall maximum, cold"
        kind="pressure"
        name="sidewall_max_kpa"
      />
      <TextField v-model="s.tire_make" label="Tire make and model" name="tire_make" />
    </div>
  </fieldset>
</template>
