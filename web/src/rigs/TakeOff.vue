<script setup lang="ts">
/** A tire taken off, to the store or for good, with the day and why. */
import { reactive } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { today } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useFrame } from './frame'
import { refreshRig, type TakenOff } from './queries'

const props = defineProps<{ wheel: Schemas['WheelOut']; tire: Schemas['FittedTireOut'] }>()
const emit = defineEmits<{ off: [gone: TakenOff] }>()
const { id } = useFrame()
const off = reactive({ on: today(), reason: '' })
const { save, busy, fields, message } = useSave(async (retire: boolean) => {
  const gone = props.tire
  await answer(
    api.POST('/api/v1/tires/{tire_id}/remove', {
      params: { path: { tire_id: gone.id } },
      body: { removed_on: off.on, reason: off.reason, retire },
    }),
  )
  emit('off', { wheel: gone.wheel, tire: gone.id, on: off.on, retired: retire, name: props.wheel.name })
  await refreshRig(id.value)
})
</script>

<template>
  <EntryForm :refused="fields" class="flex flex-wrap items-end gap-4" @submit="save(false)">
    <TextField v-model="off.on" class="w-44" label="Off on" type="date" name="removed_on" />
    <TextField v-model="off.reason" class="w-56" label="Why" name="reason" />
    <button class="button" :disabled="busy">To the store</button>
    <button type="button" class="button" :disabled="busy" @click="save(true)">Retire it</button>
    <Refusal :message="message" />
  </EntryForm>
</template>
