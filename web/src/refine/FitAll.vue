<script setup lang="ts">
/** Wheels without a tire entered: all of them taken as the rig is described, in one act. */
import { reactive } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { today, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'

defineProps<{ bare: string[] }>()
const { id } = useFrame()
const form = reactive({ fitted_on: today(), odometer: null as Entry, tread: '' })
const { save, busy, fields, message } = useSave(async () => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/fittings/described', {
      params: { path: { rig_id: id.value } },
      body: { ...form, tread: form.tread || null },
    }),
  )
  await refreshRig(id.value)
})
</script>

<template>
  <EntryForm :refused="fields" class="mt-4 max-w-3xl border-l-4 border-buoy bg-paper px-4 py-3" @submit="save()">
    <p class="font-semibold">No tire is entered at {{ bare.join(', ') }}.</p>
    <p class="text-soft">
      Wear and rotation follow each tire from wheel to wheel. Take the tires as the rig is described; their marks can
      come later.
    </p>
    <div class="mt-2 flex flex-wrap items-end gap-4">
      <TextField v-model="form.fitted_on" class="w-44" label="On since" type="date" name="fitted_on" />
      <QuantityField v-model="form.odometer" class="w-40" label="Odometer then" kind="distance" name="odometer" />
      <TextField v-model="form.tread" class="w-40" label="Tread then" name="tread" hint="8 mm or 10/32 in" />
      <button class="button button-next" :disabled="busy">Take the tires as described</button>
    </div>
    <Refusal :message="message && !Object.keys(fields).length ? message : ''" />
  </EntryForm>
</template>
