<script setup lang="ts">
/** Another password; every other session ends with it. */
import { reactive, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'

const form = reactive({ old: '', new: '' })
const done = ref(false)
const { save, busy, fields, message } = useSave(async () => {
  done.value = false
  await answer(api.PUT('/api/v1/session/password', { body: form }))
  Object.assign(form, { old: '', new: '' })
  done.value = true
  await queries.invalidateQueries({ queryKey: ['sessions'] })
})
</script>

<template>
  <section>
    <h2>Password</h2>
    <EntryForm
      :refused="{ ...fields, ...(fields.password ? { old: fields.password } : {}) }"
      class="mt-2 flex flex-wrap items-start gap-4"
      @submit="save()"
    >
      <TextField
        v-model="form.old"
        label="The one of now"
        type="password"
        autocomplete="current-password"
        name="old"
        class="w-60"
      />
      <TextField
        v-model="form.new"
        label="The new one"
        type="password"
        hint="At least 10 characters"
        autocomplete="new-password"
        name="new"
        class="w-60"
      />
      <button class="button mt-6" :disabled="busy">Change it</button>
      <p v-if="done" class="basis-full text-green" role="status">Changed. Every other session of yours has ended.</p>
      <Refusal :message="Object.keys(fields).length ? '' : message" />
    </EntryForm>
  </section>
</template>
