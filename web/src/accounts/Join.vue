<script setup lang="ts">
/** Where a link leads: into a workspace as somebody new or as oneself, or to a new password. */
import { useQuery } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api, refusedOf } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Mark from '@/shared/Mark.vue'
import Refusal from '@/shared/Refusal.vue'
import { takeSession, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { moment } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import Enter from './Enter.vue'
import NewSignIn from './NewSignIn.vue'

const router = useRouter()
const { session } = useSession()
const key = location.hash.slice(1)
const { data, error } = useQuery({
  queryKey: ['asked', key],
  queryFn: () => answer(api.POST('/api/v1/join/asked', { body: { key } })),
  retry: false,
  staleTime: Infinity,
})
const form = reactive({ name: '', username: '', password: '' })
const asMyself = ref(false)
const done = ref(false)
const { save, busy, fields, message } = useSave(async (how: 'new' | 'self' | 'password') => {
  if (how === 'password') {
    await answer(api.POST('/api/v1/join/password', { body: { key, password: form.password } }))
    done.value = true
    return
  }
  const now =
    how === 'self'
      ? await answer(api.POST('/api/v1/session/join', { body: { key } }))
      : await answer(api.POST('/api/v1/join', { body: { ...form, name: form.name || (data.value?.name ?? ''), key } }))
  await router.replace('/')
  takeSession(now)
})
</script>

<template>
  <Enter v-if="asMyself && !session?.workspace" />
  <main v-else class="mx-auto max-w-md px-5 py-10 sm:py-16">
    <Mark :size="56" />
    <template v-if="error">
      <h1 class="mt-4 text-3xl font-bold">This link is no more</h1>
      <p class="mt-1" role="alert">{{ refusedOf(error).fields.key ?? refusedOf(error).message }}</p>
      <RouterLink to="/" class="mt-4 block">Go to the sign-in</RouterLink>
    </template>
    <p v-else-if="!data" class="mt-4 text-soft">Looking at the link…</p>
    <template v-else-if="done">
      <h1 class="mt-4 text-3xl font-bold">The new password counts</h1>
      <p class="mt-1">Whatever was open with the one before is closed. Sign in with it as {{ data.username }}.</p>
      <RouterLink to="/" class="button button-next mt-4 inline-block">Sign in</RouterLink>
    </template>
    <template v-else-if="data.username">
      <h1 class="mt-4 text-3xl font-bold">A new password</h1>
      <p class="mt-1 text-soft">For {{ data.username }}, asked for by {{ data.made_by }} of {{ data.workspace }}.</p>
      <EntryForm :refused="fields" class="mt-6 grid gap-4" @submit="save('password')">
        <TextField
          v-model="form.password"
          label="New password"
          type="password"
          hint="At least 10 characters"
          autocomplete="new-password"
          name="password"
        />
        <Refusal :message="fields.password ? '' : message" />
        <button class="button button-next justify-self-start" :disabled="busy">Set it</button>
      </EntryForm>
    </template>
    <template v-else>
      <h1 class="mt-4 text-3xl font-bold">Come aboard {{ data.workspace }}</h1>
      <p class="mt-1 text-soft">
        {{ data.made_by }} asks you in as {{ data.role }}. The link is good until {{ moment(data.ends_at) }}.
      </p>
      <template v-if="session?.workspace">
        <button type="button" class="button button-next mt-6" :disabled="busy" @click="save('self')">
          Come in as {{ session.name }}
        </button>
        <Refusal :message="message" />
        <p class="mt-4 text-soft">Not you? Leave first, and open the link again.</p>
      </template>
      <template v-else>
        <EntryForm :refused="fields" class="mt-6 grid gap-4" @submit="save('new')">
          <TextField v-model="form.name" label="Your name" :hint="`As ${data.name}, where it is empty`" name="name" />
          <NewSignIn v-model:username="form.username" v-model:password="form.password" />
          <Refusal :message="Object.keys(fields).length ? '' : message" />
          <button class="button button-next justify-self-start" :disabled="busy">Come in</button>
        </EntryForm>
        <button type="button" class="link mt-6" @click="asMyself = true">I have a sign-in here already</button>
      </template>
    </template>
  </main>
</template>
