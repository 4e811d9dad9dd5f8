<script setup lang="ts">
/** Tires moved among the wheels of the rig, in one of the ways that they allow. */
import { reactive } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { today, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useFrame } from './frame'
import { refreshRig } from './queries'

defineProps<{ rotations: Schemas['TiresOut']['rotations'] }>()
const { id } = useFrame()
const rotation = reactive({ odometer: null as Entry, on: today() })
const {
  save: rotate,
  message: rotateMessage,
  fields: rotateFields,
  busy: rotating,
} = useSave(async (moves: Record<string, string>) => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/moves', {
      params: { path: { rig_id: id.value } },
      body: { moves, moved_on: rotation.on, odometer: rotation.odometer },
    }),
  )
  await refreshRig(id.value)
})
const spoken = (moves: Record<string, string>) =>
  Object.entries(moves)
    .map(([from, to]) => `${from} → ${to}`)
    .join(', ')
</script>

<template>
  <Opening label="Rotate">
    <EntryForm :refused="rotateFields" class="flex flex-wrap gap-4">
      <TextField v-model="rotation.on" class="w-44" label="Moved on" type="date" name="moved_on" />
      <QuantityField v-model="rotation.odometer" class="w-44" label="Odometer" kind="distance" name="odometer" />
    </EntryForm>
    <ul class="mt-2">
      <li
        v-for="r in rotations"
        :key="r.key"
        class="flex flex-wrap items-baseline gap-x-4 border-t border-hairline py-2"
      >
        <span class="font-semibold">{{ r.name }}</span>
        <span class="text-sm text-soft">{{ spoken(r.moves) }}</span>
        <button type="button" class="link" :disabled="rotating" @click="rotate(r.moves)">Done so</button>
      </li>
    </ul>
    <p class="mt-1 text-sm text-soft">
      Work out the pressures again where the axles differ: a tire takes on the target of the axle it moves to.
    </p>
    <Refusal :message="rotateMessage || rotateFields.moves" />
  </Opening>
</template>
