<script setup lang="ts">
/** Signing in; in the demo, one click for each made-up person. `over`: on top of a page whose sign-in expired. */
import { ref } from 'vue'
import EntryForm from '@/shared/EntryForm.vue'
import Mark from '@/shared/Mark.vue'
import { takeSession, useSession } from '@/shared/session'
import { answer, api, refusedOf } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'

const props = defineProps<{ over?: boolean }>()
const { session, refetch } = useSession()
const username = ref('')
const password = ref('')
const code = ref('')
/** The password is right, and the second factor is asked for. */
const second = ref(false)
const fields = ref<Record<string, string>>({})
const message = ref('')
const busy = ref(false)

// Over a page, the session in hand is the expired one: ask who may enter now.
if (props.over) void refetch()

async function attempt(call: () => ReturnType<typeof signIn>) {
  busy.value = true
  fields.value = {}
  message.value = ''
  try {
    takeSession(await call())
  } catch (error) {
    const no = refusedOf(error)
    fields.value = no.fields
    if (no.fields.code) {
      // Being asked is no refusal yet.
      if (!second.value) fields.value = {}
      second.value = true
    }
    message.value = Object.keys(no.fields).length ? '' : no.message
  } finally {
    busy.value = false
  }
}
const signIn = () =>
  answer(
    api.POST('/api/v1/session', { body: { username: username.value, password: password.value, code: code.value } }),
  )
const enter = (name: string) => answer(api.POST('/api/v1/session/demo', { body: { username: name } }))

const DOES: Record<string, string> = {
  manager: 'describes rigs, weighs, puts targets in force',
  technician: 'weighs and does the rounds',
  viewer: 'looks, changes nothing',
}
</script>

<template>
  <main :class="over ? 'fixed inset-0 z-50 overflow-auto bg-ground' : ''" class="px-5 py-10 sm:py-16">
    <div class="mx-auto max-w-md">
      <Mark :size="56" />
      <h1 class="mt-4 text-3xl font-bold">Gentle Ballast</h1>
      <p class="mt-1 text-soft">
        {{
          over
            ? 'The sign-in has expired. What you entered waits behind this page.'
            : 'The pressure each tire needs, and every reason for it.'
        }}
      </p>

      <section v-if="session?.demo.length" class="mt-8">
        <h2>Enter the made-up demo as</h2>
        <ul class="mt-2">
          <li v-for="p in session.demo" :key="p.username" class="border-t border-hairline">
            <button
              type="button"
              class="flex w-full cursor-pointer items-center justify-between gap-4 px-1 py-3 text-left hover:bg-tealwash"
              :disabled="busy"
              @click="attempt(() => enter(p.username))"
            >
              <span>
                <span class="block font-bold text-teal">{{ p.name }}</span>
                <span class="text-sm text-soft">{{ p.workspace }}: {{ DOES[p.role] }}</span>
              </span>
              <svg width="10" height="14" viewBox="0 0 10 14" aria-hidden="true" class="shrink-0 text-teal">
                <path d="M1 0l8 7-8 7z" fill="currentColor" />
              </svg>
            </button>
          </li>
        </ul>
        <p class="mt-2 text-sm text-soft">Every name, table and number in it is invented. Not for the road.</p>
        <Refusal :message="fields.username || message" />
      </section>

      <EntryForm v-else :refused="fields" class="mt-8 grid gap-4" @submit="attempt(signIn)">
        <TextField v-model="username" label="Sign-in name" autocomplete="username" required name="username" autofocus />
        <TextField
          v-model="password"
          label="Password"
          type="password"
          autocomplete="current-password"
          required
          name="password"
        />
        <TextField
          v-if="second"
          v-model="code"
          label="Six digits of your device, or a recovery code"
          autocomplete="one-time-code"
          name="code"
          autofocus
        />
        <Refusal :message="message" />
        <button class="button button-next justify-self-start" :disabled="busy">Sign in</button>
      </EntryForm>
    </div>
  </main>
</template>
