<script setup lang="ts">
/** A rig laid up until a day, at a pressure, and why; taken back, or rolling again before its day. */
import { nextTick, reactive, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { today, type Entry } from '@/shared/units'
import { showOpened } from '@/shared/useOpened'
import { useSave } from '@/shared/useSave'
import { useFrame } from './frame'
import { refreshRig } from './queries'

const { id, sheet } = useFrame()
const { may } = useSession()
const open = ref(false)
const box = ref<HTMLElement>()
const form = reactive({ until: '', kept: null as Entry, why: '' })

function begin() {
  const laid = sheet.value.laid_up
  form.until = laid?.resting ? laid.until : ''
  form.kept = laid?.resting ? laid.kept_kpa : null
  form.why = laid?.resting ? laid.why : ''
  open.value = true
  void nextTick(() => showOpened(box.value))
}
const path = () => ({ params: { path: { rig_id: id.value } } })
const { save, busy, fields, message } = useSave(async () => {
  await answer(api.PUT('/api/v1/rigs/{rig_id}/laid-up', { ...path(), body: { ...form } }))
  open.value = false
  await refreshRig(id.value)
})
const ended = useSave(async () => {
  await answer(api.DELETE('/api/v1/rigs/{rig_id}/laid-up', path()))
  await refreshRig(id.value)
})
</script>

<template>
  <div v-if="may('rigs')">
    <div class="flex flex-wrap gap-x-6 gap-y-2">
      <button type="button" class="link" :aria-expanded="open" @click="open ? (open = false) : begin()">
        {{ sheet.laid_up?.resting ? 'Change until when' : 'Lay it up until a day' }}
      </button>
      <button
        v-if="sheet.laid_up?.resting"
        type="button"
        class="link"
        :disabled="ended.busy.value"
        @click="ended.save()"
      >
        {{ sheet.laid_up.on === today() ? 'Take that back' : 'It rolls again from today' }}
      </button>
    </div>
    <Refusal :message="ended.message.value" />
    <div v-if="open" ref="box">
      <EntryForm
        :refused="fields"
        class="mt-3 flex flex-wrap items-start gap-x-4 gap-y-3 border-l-4 border-buoy bg-paper px-4 py-3"
        @submit="save()"
      >
        <p class="basis-full text-soft">
          Its round and its weighing wait until then. Before it rolls, every tire is read: a round asks for itself.
        </p>
        <TextField v-model="form.until" class="w-44" label="Laid up until" type="date" name="until" />
        <QuantityField v-model="form.kept" class="w-44" label="Kept at, cold" kind="pressure" name="kept" />
        <TextField v-model="form.why" class="w-72" label="Why" name="why" />
        <button class="button button-next mt-6" :disabled="busy">Lay it up</button>
        <button type="button" class="link mt-8" @click="open = false">Not now</button>
        <Refusal :message="message" />
      </EntryForm>
    </div>
  </div>
</template>
