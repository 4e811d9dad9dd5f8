<script setup lang="ts">
/** What tells a tire apart, and how its tread is: what a rotation asks. */
import { reactive, watch } from 'vue'
import { answer, api } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Presses from '@/shared/Presses.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'

interface Marks {
  tire: number
  date_code: string
  casing: string
  sensor: string
  one_way: boolean | null
  coarse: boolean | null
}
const props = defineProps<{ marks: Marks }>()
const emit = defineEmits<{ saved: [] }>()
const form = reactive({ ...props.marks })
watch(
  () => props.marks,
  (now) => Object.assign(form, now),
)
const { save, busy, fields, message } = useSave(async () => {
  const { tire, ...body } = form
  await answer(api.PUT('/api/v1/tires/{tire_id}/marks', { params: { path: { tire_id: tire } }, body }))
  emit('saved')
})
const choices = (yes: string, no: string) => [
  { key: true as boolean | null, name: yes },
  { key: false as boolean | null, name: no },
  { key: null as boolean | null, name: 'not known' },
]
</script>

<template>
  <EntryForm :refused="fields" class="mt-2 grid max-w-3xl gap-x-5 gap-y-3 sm:grid-cols-3" @submit="save()">
    <TextField v-model="form.date_code" label="Date code" name="date_code" inputmode="numeric" maxlength="4" />
    <TextField v-model="form.casing" label="Own or casing number" name="casing" maxlength="40" />
    <TextField v-model="form.sensor" label="Sensor" name="sensor" maxlength="40" />
    <div role="group" aria-label="Its tread runs" class="sm:col-span-2">
      <p class="label">Its tread runs</p>
      <div class="flex flex-wrap gap-1">
        <Presses v-model="form.one_way" :choices="choices('one way only', 'either way')" look="chip min-h-11 px-3" />
      </div>
    </div>
    <div role="group" aria-label="Its pattern">
      <p class="label">Its pattern</p>
      <div class="flex flex-wrap gap-1">
        <Presses v-model="form.coarse" :choices="choices('coarse', 'for the road')" look="chip min-h-11 px-3" />
      </div>
    </div>
    <p class="sm:col-span-3"><button class="button" :disabled="busy">Save its marks</button></p>
    <Refusal :message="message && !Object.keys(fields).length ? message : ''" />
  </EntryForm>
</template>
