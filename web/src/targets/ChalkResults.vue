<script setup lang="ts">
/** What the chalk said: one of the schools, of an axle in the load state in force. */
import { useQuery } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { show, spokenDay, today, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const emit = defineEmits<{ changed: [] }>()
const { id, sheet } = useFrame()
const { may } = useSession()
const { data } = useQuery({
  queryKey: ['rig', id, 'chalk'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/chalk', { params: { path: { rig_id: id.value } } })),
})
const form = reactive({ number: 1, pressure: null as Entry, done_on: today(), note: '' })
const gone = ref<number | null>(null)
async function changed() {
  await queries.invalidateQueries({ queryKey: ['rig', id, 'chalk'] })
  emit('changed')
}
const add = useSave(async () => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/chalk', {
      params: { path: { rig_id: id.value } },
      body: { ...form, pressure: form.pressure ?? '', load_state: sheet.value.weighing?.load_state ?? '' },
    }),
  )
  form.pressure = null
  form.note = ''
  await changed()
})
const withdraw = useSave(async (result: number, withdrawn: boolean) => {
  await answer(
    api.PUT('/api/v1/rigs/{rig_id}/chalk/{result_id}', {
      params: { path: { rig_id: id.value, result_id: result } },
      body: { withdrawn },
    }),
  )
  gone.value = withdrawn ? result : null
  await changed()
})
</script>

<template>
  <Opening label="Chalk results">
    <ul v-if="data?.length">
      <li v-for="r in data" :key="r.id" class="flex flex-wrap justify-between gap-x-6 border-t border-hairline py-1.5">
        <span
          >{{ r.name }}, {{ r.load_state }}: <b>{{ show('pressure', r.kpa) }}</b></span
        >
        <span class="text-sm text-soft"
          >{{ spokenDay(r.done_on) }}, {{ r.by }}{{ r.note ? `: ${r.note}` : '' }}
          <button v-if="may('targets')" type="button" class="link ml-2" @click="withdraw.save(r.id, true)">
            Take back
          </button>
        </span>
      </li>
    </ul>
    <p v-else class="text-soft">None yet. Chalk the tread, drive straight, look where it went.</p>
    <p v-if="gone !== null" class="text-sm">
      Taken back. <button type="button" class="link" @click="withdraw.save(gone, false)">Undo</button>
    </p>
    <EntryForm
      v-if="may('targets')"
      :refused="add.fields.value"
      class="mt-3 grid gap-4 sm:grid-cols-4"
      @submit="add.save()"
    >
      <ChoiceField
        v-model="form.number"
        label="Axle"
        :choices="sheet.rig.axles.map((a) => ({ key: a.number, name: a.name }))"
        name="number"
      />
      <QuantityField v-model="form.pressure" label="Where it went evenly" kind="pressure" name="pressure" />
      <TextField v-model="form.done_on" label="Done on" type="date" name="done_on" />
      <TextField v-model="form.note" label="Note" name="note" />
      <p><button class="button" :disabled="add.busy.value">Record it</button></p>
      <Refusal :message="add.message.value && !Object.keys(add.fields.value).length ? add.message.value : ''" />
    </EntryForm>
  </Opening>
</template>
