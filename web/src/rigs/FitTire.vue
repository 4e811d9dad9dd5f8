<script setup lang="ts">
/** A tire fitted on a wheel: a new one, read off its sidewall, or one from the store. */
import { entriesOf } from '@/shared/entries'
import EntryFields from '@/shared/EntryFields.vue'
import { computed, reactive } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { today, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import { useFrame } from './frame'
import { refreshRig } from './queries'

const props = defineProps<{
  wheel: Schemas['WheelOut']
  store: Schemas['TiresOut']['store']
  /** The size that the rig is described with here. */
  described: string
}>()
const emit = defineEmits<{ done: [] }>()
const { id } = useFrame()
const form = reactive({
  from: 0,
  tire_size: '',
  tire_make: '',
  load_range: '',
  date_code: '',
  sensor: '',
  diameter: '',
  sidewall_max_kpa: null as Entry,
  tread: '',
  odometer: null as Entry,
  fitted_on: today(),
})
const marking = computed(() =>
  form.tire_size || form.date_code ? { tire_size: form.tire_size || props.described, date_code: form.date_code } : null,
)
const work = useWork(marking, (data) =>
  answer(api.POST('/api/v1/work/rigs/size', { body: data as Schemas['NewTireIn'] })),
)
const choices = computed(() => [
  { key: 0, name: 'A new tire' },
  ...props.store.map((t) => ({
    key: t.id,
    name: `From the store: ${[t.tire_make, t.tire_size].filter(Boolean).join(' ')}`,
    note: [t.date_code && `date code ${t.date_code}`, t.sensor].filter(Boolean).join(', '),
  })),
])
const { save, busy, fields, message } = useSave(async () => {
  const fresh = form.from === 0
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/fittings', {
      params: { path: { rig_id: id.value } },
      body: {
        wheel: props.wheel.code,
        tire: fresh ? null : form.from,
        new: fresh
          ? ({
              tire_size: form.tire_size,
              tire_make: form.tire_make,
              load_range: form.load_range,
              date_code: form.date_code,
              sensor: form.sensor,
              diameter: form.diameter || null,
              sidewall_max_kpa: form.sidewall_max_kpa,
            } as Schemas['NewTireIn'])
          : null,
        fitted_on: form.fitted_on,
        odometer: form.odometer,
        tread: form.tread || null,
      },
    }),
  )
  await refreshRig(id.value)
  emit('done')
})
const no = (field: string) => fields.value[`new.${field}`] ?? fields.value[field] ?? work.fields.value[field]
const { text, quantity } = entriesOf<typeof form>()
const entries = computed(() => {
  const shown = form.from === 0
  return [
    text('tire_size', 'Size on its sidewall', {
      upper: true,
      shown,
      placeholder: props.described,
      hint: work.answer.value?.words ?? 'Empty: as the rig is described',
    }),
    text('tire_make', 'Make and model', { shown }),
    text('date_code', 'Date code', { shown, inputmode: 'numeric', hint: 'Last four digits, week and year' }),
    text('load_range', 'Load range', { shown, upper: true }),
    quantity('sidewall_max_kpa', 'Sidewall maximum, cold', 'pressure', { shown }),
    text('sensor', 'Sensor', { shown }),
    text('diameter', 'Measured diameter', { shown, hint: '838 mm or 33 in' }),
    text('tread', 'Tread now', { hint: '8 mm or 10/32 in' }),
    quantity('odometer', 'Odometer', 'distance', { hint: 'Brings the reminder to torque again' }),
    text('fitted_on', 'Fitted on', { type: 'date' }),
  ]
})
</script>

<template>
  <EntryForm :refused="no" @submit="save()">
    <div class="grid gap-4 sm:grid-cols-2 lg:grid-cols-4">
      <ChoiceField v-model="form.from" label="Which" :choices="choices" name="tire" />
      <EntryFields v-model="form" :entries="entries" />
    </div>
    <div class="mt-4 flex flex-wrap items-center gap-4">
      <button class="button button-next" :disabled="busy">Fit it</button>
      <button type="button" class="link" @click="emit('done')">Leave it</button>
      <Refusal :message="message" />
    </div>
  </EntryForm>
</template>
