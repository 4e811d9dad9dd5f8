<script setup lang="ts">
/** What a rig has of sensors: where they sit, which wheels are heard, how they wake and learn, batteries, the share of low. */
import { computed, ref, watch } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import { KNOWN, knownOf, meant } from '@/shared/known'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'
import type { Sensors } from './queries'

const props = defineProps<{ told: Sensors }>()
const { may } = useSession()
const kinds = computed(() => [
  { key: '' as Schemas['SystemOut']['kind'], name: 'Not known, or none' },
  ...Object.entries(props.told.kinds).map(([key, name]) => ({ key: key as Schemas['SystemOut']['kind'], name })),
])
const wheels = computed(() => props.told.axles.filter((a) => a.number !== null).flatMap((a) => a.wheels))
const read = () => {
  const s = props.told.system
  return {
    kind: s.kind,
    wheels: s.wheels.length ? s.wheels : wheels.value.map((w) => w.code),
    spare_heard: knownOf(s.spare_heard),
    sealed: knownOf(s.sealed),
    refresh_min: s.refresh_min === null ? '' : String(s.refresh_min),
    relearn: s.relearn,
    batteries_on: s.batteries_on ?? '',
    battery_years: s.battery_years === null ? '' : String(s.battery_years),
    low_share: String(Math.round(s.low_share * 100)),
  }
}
const form = ref(read())
watch(
  () => props.told.version,
  () => (form.value = read()),
)
const toggle = (code: string) => {
  const now = form.value.wheels
  form.value.wheels = now.includes(code) ? now.filter((c) => c !== code) : [...now, code]
}
const { save, busy, fields, message, newer } = useSave(async () => {
  const f = form.value
  const body = {
    ...f,
    version: newer.value || props.told.version,
    spare_heard: meant(f.spare_heard),
    sealed: meant(f.sealed),
    refresh_min: f.refresh_min || null,
    batteries_on: f.batteries_on || null,
    battery_years: f.battery_years || null,
    low_share: Number(f.low_share) / 100,
  } as unknown as Schemas['SystemIn']
  const params = { path: { rig_id: props.told.rig } }
  const now = await answer(api.PUT('/api/v1/rigs/{rig_id}/sensors', { params, body }))
  queries.setQueryData(['rig', props.told.rig, 'sensors'], now)
})
</script>

<template>
  <EntryForm :refused="fields" class="max-w-3xl" @submit="save()">
    <fieldset :disabled="!may('fit')" class="min-w-0">
      <div class="grid grid-cols-2 items-start gap-4 sm:grid-cols-3">
        <ChoiceField
          v-model="form.kind"
          label="Where they sit"
          :choices="kinds"
          name="kind"
          class="max-sm:col-span-2"
        />
        <ChoiceField v-model="form.spare_heard" label="Spare heard" :choices="KNOWN" name="spare_heard" />
        <ChoiceField v-model="form.sealed" label="Sealed: shows less up in the hills" :choices="KNOWN" name="sealed" />
        <TextField
          v-model="form.low_share"
          label="Low at, % under the target"
          inputmode="numeric"
          name="low_share"
          hint="10 to 20"
        />
        <TextField
          v-model="form.refresh_min"
          label="Speaks after rolling, min"
          inputmode="numeric"
          name="refresh_min"
        />
        <TextField v-model="form.batteries_on" label="Batteries fitted" type="date" name="batteries_on" />
        <TextField v-model="form.battery_years" label="Years they last" inputmode="numeric" name="battery_years" />
        <TextField
          v-model="form.relearn"
          class="col-span-2 sm:col-span-3"
          label="How it learns its wheels anew"
          name="relearn"
        />
      </div>
      <div class="mt-3" role="group" aria-label="Wheels that are heard">
        <span class="label">Wheels that are heard</span>
        <div class="mt-1 flex flex-wrap gap-1.5">
          <button
            v-for="w in wheels"
            :key="w.code"
            type="button"
            class="press chip min-h-11 px-3"
            :aria-pressed="form.wheels.includes(w.code)"
            @click="toggle(w.code)"
          >
            {{ w.code }}
          </button>
        </div>
      </div>
      <button v-if="may('fit')" class="button mt-4" :disabled="busy">Keep the system</button>
      <Refusal :message="Object.keys(fields).length ? '' : message" />
    </fieldset>
  </EntryForm>
</template>
