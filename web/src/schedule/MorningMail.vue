<script setup lang="ts">
/** A line by mail each dawn: off until somebody wants it. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'

const { data } = useQuery({ queryKey: ['notice'], queryFn: () => answer(api.GET('/api/v1/notice')) })
const form = ref({ email: '' })
const { save, busy, fields, message } = useSave(async (email: string | null) => {
  queries.setQueryData(['notice'], await answer(api.PUT('/api/v1/notice', { body: { email } })))
})
</script>

<template>
  <section v-if="data">
    <h2>By mail</h2>
    <p v-if="!data.possible" class="text-soft">No mail is sent from here: whoever runs the server has not set it up.</p>
    <p v-else-if="data.email" class="flex flex-wrap gap-x-4">
      A line each dawn to <b>{{ data.email }}</b>
      <button type="button" class="link" :disabled="busy" @click="save(null)">No more</button>
    </p>
    <EntryForm v-else :refused="fields" class="mt-1 flex flex-wrap items-start gap-4" @submit="save(form.email)">
      <TextField v-model="form.email" class="w-72" label="A line each dawn to" type="email" name="email" />
      <button class="button mt-6" :disabled="busy">Send it</button>
    </EntryForm>
    <Refusal :message="Object.keys(fields).length ? '' : message" />
  </section>
</template>
