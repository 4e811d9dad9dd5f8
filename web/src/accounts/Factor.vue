<script setup lang="ts">
/** The second factor: set up with a device, shown by its first digits, taken off by the password. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import Squares from '@/shared/Squares.vue'
import TextField from '@/shared/TextField.vue'
import { spokenDay } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const { data, refetch } = useQuery({
  queryKey: ['factor'],
  queryFn: () => answer(api.GET('/api/v1/session/factor')),
})
const password = ref('')
const code = ref('')
const begun = ref<Schemas['FactorBegun'] | null>(null)
const codes = ref<string[]>([])
const { save, busy, fields, message } = useSave(async (what: 'begin' | 'confirm' | 'codes' | 'off') => {
  const body = { password: password.value }
  if (what === 'begin') begun.value = await answer(api.POST('/api/v1/session/factor', { body }))
  if (what === 'confirm') {
    codes.value = (await answer(api.PUT('/api/v1/session/factor', { body: { code: code.value } }))).codes
    begun.value = null
  }
  if (what === 'codes') codes.value = (await answer(api.POST('/api/v1/session/factor/codes', { body }))).codes
  if (what === 'off') {
    await answer(api.POST('/api/v1/session/factor/off', { body }))
    codes.value = []
  }
  password.value = code.value = ''
  await refetch()
})
</script>

<template>
  <section v-if="data">
    <h2>Second factor</h2>
    <p class="text-soft">
      {{
        data.on
          ? `In use since ${spokenDay(data.since!)}. ${data.codes} recovery codes are left.`
          : 'Beside the password, six digits of a device of yours that change every thirty seconds. Not in use.'
      }}
    </p>
    <div v-if="codes.length" role="status" class="mt-3 border-l-4 border-teal bg-paper px-4 py-3">
      <p>
        For the day on which the device is lost: each of these works once. They are shown this once; write them down.
      </p>
      <ul class="mt-2 columns-2 font-bold">
        <li v-for="c in codes" :key="c">
          <code>{{ c }}</code>
        </li>
      </ul>
    </div>
    <EntryForm v-if="begun" :refused="fields" class="mt-3 flex flex-wrap items-start gap-5" @submit="save('confirm')">
      <Squares class="size-44" :rows="begun.squares" label="The code for the camera of the device" />
      <div class="min-w-56 flex-1">
        <p>Let the device see the squares, or type this into it:</p>
        <p class="my-1">
          <code class="font-bold break-all">{{ begun.secret }}</code>
        </p>
        <TextField v-model="code" label="The digits it shows now" name="code" inputmode="numeric" class="w-48" />
        <p class="mt-2 flex gap-4">
          <button class="button button-next" :disabled="busy">Use it from now on</button>
          <button type="button" class="link" @click="begun = null">Not now</button>
        </p>
      </div>
    </EntryForm>
    <EntryForm
      v-else
      :refused="fields"
      class="mt-3 flex flex-wrap items-start gap-4"
      @submit="save(data.on ? 'codes' : 'begin')"
    >
      <TextField
        v-model="password"
        label="Your password"
        type="password"
        autocomplete="current-password"
        name="password"
        class="w-60"
      />
      <button class="button mt-6" :disabled="busy">{{ data.on ? 'New recovery codes' : 'Set it up' }}</button>
      <button v-if="data.on" type="button" class="link mt-8" :disabled="busy" @click="save('off')">Take it off</button>
    </EntryForm>
    <Refusal :message="Object.keys(fields).length ? '' : message" />
  </section>
</template>
