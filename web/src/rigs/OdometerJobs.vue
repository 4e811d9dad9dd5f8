<script setup lang="ts">
/** Nuts to torque again after tires were changed, and an odometer that was mistyped or replaced. */
import { reactive } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import { say, show, today, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useFrame } from './frame'
import { refreshRig } from './queries'

defineProps<{ tires: Schemas['TiresOut'] }>()
const { id } = useFrame()
const { may } = useSession()
const torque = reactive({ odometer: null as Entry })
const {
  save: torqued,
  message: torqueMessage,
  fields: torqueFields,
} = useSave(async () => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/torques', {
      params: { path: { rig_id: id.value } },
      body: { done_on: today(), odometer: torque.odometer! },
    }),
  )
  torque.odometer = null
  await refreshRig(id.value)
})
const meter = reactive({ odometer: null as Entry })
const {
  save: corrected,
  message: meterMessage,
  fields: meterFields,
} = useSave(async () => {
  await answer(
    api.PUT('/api/v1/rigs/{rig_id}/odometer', {
      params: { path: { rig_id: id.value } },
      body: { odometer: meter.odometer! },
    }),
  )
  meter.odometer = null
  await refreshRig(id.value)
})
</script>

<template>
  <div>
    <EntryForm
      v-if="tires.retorque"
      :refused="torqueFields"
      class="mt-3 flex flex-wrap items-end gap-4 border-l-4 border-buoy bg-paper px-4 py-3"
      @submit="torqued()"
    >
      <p class="w-full font-semibold">{{ say(tires.retorque) }}</p>
      <template v-if="may('fit')">
        <QuantityField
          v-model="torque.odometer"
          class="w-44"
          label="Torqued at odometer"
          kind="distance"
          name="odometer"
        />
        <button class="button">Done</button>
      </template>
      <Refusal :message="torqueMessage" />
    </EntryForm>
    <Opening
      v-if="tires.odometer_km !== null && may('fit')"
      class="mt-2"
      :label="`Odometer at ${show('distance', tires.odometer_km)}: correct it`"
    >
      <EntryForm :refused="meterFields" class="mt-2 flex flex-wrap items-end gap-4" @submit="corrected()">
        <p class="w-full max-w-xl text-soft">
          Only where it was mistyped, or another odometer was put in: what was noted before stays as it is.
        </p>
        <QuantityField
          v-model="meter.odometer"
          class="w-44"
          label="The odometer shows"
          kind="distance"
          name="odometer"
        />
        <button class="button">Correct</button>
        <Refusal :message="meterMessage" />
      </EntryForm>
    </Opening>
  </div>
</template>
