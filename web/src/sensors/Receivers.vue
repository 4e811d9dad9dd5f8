<script setup lang="ts">
/** The receivers that may send for a rig: paired with a key that is shown once. */
import { ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { spokenDay } from '@/shared/units'
import ToldOnce from '@/shared/ToldOnce.vue'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ rig: number; receivers: Schemas['ReceiverOut'][] }>()
const { may } = useSession()
const form = ref({ name: '' })
const key = ref('')
const anew = () => queries.invalidateQueries({ queryKey: ['rig', props.rig, 'drives'] })
const { save, busy, fields, message } = useSave(async () => {
  const params = { path: { rig_id: props.rig } }
  key.value = (await answer(api.POST('/api/v1/rigs/{rig_id}/receivers', { params, body: form.value }))).key
  form.value.name = ''
  await anew()
})
const { save: unpair, message: not } = useSave(async (receiver: number) => {
  const params = { path: { rig_id: props.rig, receiver_id: receiver } }
  await answer(api.DELETE('/api/v1/rigs/{rig_id}/receivers/{receiver_id}', { params }))
  key.value = ''
  await anew()
})
</script>

<template>
  <section>
    <h2>Receivers</h2>
    <p class="text-soft">
      {{ receivers.length ? 'They send for this rig with a key of their own.' : 'None is paired with this rig.' }}
    </p>
    <ul v-if="receivers.length" class="mt-1">
      <li v-for="r in receivers" :key="r.id" class="flex flex-wrap items-center gap-x-3 border-t border-hairline py-1">
        <b>{{ r.name }}</b> <span class="text-soft">by {{ r.by }}, {{ spokenDay(r.added_at) }}</span>
        <button v-if="may('fit')" type="button" class="link" @click="unpair(r.id)">Take its key back</button>
      </li>
    </ul>
    <ToldOnce v-if="key" what="Its key" :secret="key" class="mt-2" />
    <EntryForm v-if="may('fit')" :refused="fields" class="mt-3 flex flex-wrap items-end gap-3" @submit="save()">
      <TextField v-model="form.name" name="name" label="Pair another" hint="what you call it" class="w-60" />
      <button class="button" :disabled="busy">Pair</button>
    </EntryForm>
    <Refusal :message="message || not" />
  </section>
</template>
