<script setup lang="ts">
/** A tire fitted on a wheel: a new one, read off its sidewall, or one from the store. */
import { computed, reactive } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
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
</script>

<template>
  <EntryForm :refused="no" @submit="save()">
    <div class="grid gap-4 sm:grid-cols-2 lg:grid-cols-4">
      <ChoiceField v-model="form.from" label="Which" :choices="choices" name="tire" />
      <template v-if="form.from === 0">
        <TextField
          v-model="form.tire_size"
          upper
          label="Size on its sidewall"
          :placeholder="described"
          name="tire_size"
          :hint="work.answer.value?.words ?? 'Empty: as the rig is described'"
        />
        <TextField v-model="form.tire_make" label="Make and model" name="tire_make" />
        <TextField
          v-model="form.date_code"
          label="Date code"
          inputmode="numeric"
          hint="Last four digits, week and year"
          name="date_code"
        />
        <TextField v-model="form.load_range" upper label="Load range" name="load_range" />
        <QuantityField
          v-model="form.sidewall_max_kpa"
          label="Sidewall maximum, cold"
          kind="pressure"
          name="sidewall_max_kpa"
        />
        <TextField v-model="form.sensor" label="Sensor" name="sensor" />
        <TextField v-model="form.diameter" label="Measured diameter" hint="838 mm or 33 in" name="diameter" />
      </template>
      <TextField v-model="form.tread" label="Tread now" hint="8 mm or 10/32 in" name="tread" />
      <QuantityField
        v-model="form.odometer"
        label="Odometer"
        kind="distance"
        hint="Brings the reminder to torque again"
        name="odometer"
      />
      <TextField v-model="form.fitted_on" label="Fitted on" type="date" name="fitted_on" />
    </div>
    <div class="mt-4 flex flex-wrap items-center gap-4">
      <button class="button button-next" :disabled="busy">Fit it</button>
      <button type="button" class="link" @click="emit('done')">Leave it</button>
      <Refusal :message="message" />
    </div>
  </EntryForm>
</template>
