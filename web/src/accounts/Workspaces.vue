<script setup lang="ts">
/** The workspaces that one is in, and a further one. */
import { reactive } from 'vue'
import { answer, api } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { takeInHand, takeSession, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'

const { session, may } = useSession()
const form = reactive({ name: '' })
const {
  save: begin,
  busy,
  fields,
  message,
} = useSave(async () => {
  takeSession(await answer(api.POST('/api/v1/workspaces', { body: form })))
})
const { save: take, message: notTaken } = useSave(takeInHand)
</script>

<template>
  <section>
    <h2>Workspaces</h2>
    <ul class="mt-1">
      <li
        v-for="w in session?.workspaces ?? []"
        :key="w.key"
        class="flex flex-wrap items-center gap-x-4 border-t border-hairline py-1.5"
      >
        <b>{{ w.name }}</b>
        <span v-if="Number(w.key) === session?.workspace?.id">In hand</span>
        <button v-else type="button" class="link min-h-11" @click="take(Number(w.key))">Take it in hand</button>
      </li>
    </ul>
    <Refusal :message="notTaken" />
    <EntryForm v-if="may('people')" :refused="fields" class="mt-2 flex flex-wrap items-start gap-4" @submit="begin()">
      <TextField
        v-model="form.name"
        label="A further one, empty"
        name="name"
        hint="Another fleet or household"
        class="w-60"
      />
      <button class="button mt-6" :disabled="busy">Begin it</button>
      <Refusal :message="Object.keys(fields).length ? '' : message" />
    </EntryForm>
  </section>
</template>
