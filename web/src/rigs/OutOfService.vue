<script setup lang="ts">
/** That a rig must not roll, on every screen of it; ended by the name of whoever signs it off. */
import { reactive, ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { say } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { refreshRig } from './queries'

const props = defineProps<{ rig: number; out: Schemas['OutOut'] }>()
const open = ref(false)
const form = reactive({ done: '', signed: '' })
const { save, busy, fields, message } = useSave(async () => {
  await answer(api.POST('/api/v1/rigs/{rig_id}/sign-off', { params: { path: { rig_id: props.rig } }, body: form }))
  open.value = false
  await refreshRig(props.rig)
})
</script>

<template>
  <Banner loud>
    <b class="text-lg">{{ say(out.words) }}</b>
    <p>
      By {{ out.by }}. It does not roll before {{ out.sign_off || 'a manager' }} signs it off.
      <button v-if="out.may_sign_off && !open" type="button" class="link" @click="open = true">Sign it off</button>
    </p>
    <EntryForm v-if="open" :refused="fields" class="mt-3 flex flex-wrap items-start gap-4" @submit="save()">
      <TextField v-model="form.done" label="What was done" name="done" class="w-80" required />
      <TextField v-model="form.signed" label="Your name, as a signature" name="signed" class="w-56" required />
      <button class="button button-next mt-6" :disabled="busy">It may roll again</button>
      <button type="button" class="link mt-8" @click="open = false">Not now</button>
    </EntryForm>
    <Refusal :message="Object.keys(fields).length ? '' : message" />
  </Banner>
</template>
