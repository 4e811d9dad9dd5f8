<script setup lang="ts">
/** Nobody is here yet: the first person makes the workspace. */
import { reactive, ref } from 'vue'
import EntryForm from '@/shared/EntryForm.vue'
import Mark from '@/shared/Mark.vue'
import { takeSession } from '@/shared/session'
import { answer, api, refusedOf } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import NewSignIn from './NewSignIn.vue'

const form = reactive({ workspace: '', name: '', username: '', password: '' })
const fields = ref<Record<string, string>>({})
const message = ref('')

async function begin() {
  try {
    takeSession(await answer(api.POST('/api/v1/first-run', { body: form })))
  } catch (error) {
    const no = refusedOf(error)
    fields.value = no.fields
    message.value = Object.keys(no.fields).length ? '' : no.message
  }
}
</script>

<template>
  <main class="mx-auto max-w-md px-5 py-10 sm:py-16">
    <Mark :size="56" />
    <h1 class="mt-4 text-3xl font-bold">Welcome aboard</h1>
    <p class="mt-1 text-soft">
      Nobody is here yet. Make the first workspace, a fleet or a household, and yourself its manager.
    </p>
    <EntryForm :refused="fields" class="mt-8 grid gap-4" @submit="begin">
      <TextField
        v-model="form.workspace"
        label="Workspace"
        hint="The name of the fleet or household"
        name="workspace"
      />
      <TextField v-model="form.name" label="Your name" autocomplete="name" name="name" />
      <NewSignIn v-model:username="form.username" v-model:password="form.password" />
      <Refusal :message="message" />
      <button class="button button-next justify-self-start">Make the workspace</button>
    </EntryForm>
  </main>
</template>
