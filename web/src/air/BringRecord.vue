<script setup lang="ts">
/** Hourly temperatures of one's own for a place that no weather service knows. */
import { reactive, ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import FileField from '@/shared/FileField.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import type { Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const emit = defineEmits<{ brought: [key: string] }>()
const form = reactive({
  place: '',
  elevation_m: null as Entry,
  time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
})
const file = ref<Schemas['FileIn'] | null>(null)
const { save, busy, fields, message } = useSave(async () => {
  const made = await answer(
    api.POST('/api/v1/weather/records', {
      body: {
        ...form,
        elevation_m: form.elevation_m ?? '',
        name: file.value?.name ?? '',
        content: file.value?.content ?? '',
      },
    }),
  )
  emit('brought', made.key)
})
</script>

<template>
  <EntryForm :refused="fields" class="grid max-w-2xl gap-4 sm:grid-cols-3" @submit="save()">
    <TextField v-model="form.place" label="Name of the place" name="place" />
    <QuantityField v-model="form.elevation_m" label="Its elevation" kind="length" whole name="elevation_m" />
    <TextField v-model="form.time_zone" label="Its time zone" name="time_zone" />
    <FileField
      class="sm:col-span-3"
      label="CSV with time and outside_c, an hour a line"
      accept=".csv,text/csv"
      :busy="busy"
      name="content"
      @chosen="file = $event"
    />
    <p class="flex items-center gap-4 sm:col-span-3">
      <button class="button" :disabled="busy || !file">Use this record</button>
      <a href="/api/v1/weather/records/blank.csv" download>A file to start from</a>
      <Refusal :message="message && !Object.keys(fields).length ? message : ''" />
    </p>
  </EntryForm>
</template>
