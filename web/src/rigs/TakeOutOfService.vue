<script setup lang="ts">
/** A rig that must not roll: why, and who must sign it off; and every time it came back. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { moment } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useFrame } from './frame'
import { refreshRig } from './queries'

const { id, sheet } = useFrame()
const { may } = useSession()
const open = ref(false)
const looked = ref(false)
const form = reactive({ why: '', sign_off: null as number | null })
const people = useQuery({
  queryKey: ['people'],
  queryFn: () => answer(api.GET('/api/v1/people')),
  enabled: open,
})
const signs = computed(() => [
  { key: null as number | null, name: 'Any manager' },
  ...(people.data.value ?? []).filter((p) => p.rounds).map((p) => ({ key: p.id as number | null, name: p.name })),
])
const path = () => ({ params: { path: { rig_id: id.value } } })
const back = useQuery({
  queryKey: ['rig', id, 'sign-offs'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/sign-offs', path())),
  enabled: looked,
})
function begin() {
  form.why = sheet.value.out?.why ?? ''
  open.value = true
}
const { save, busy, fields, message } = useSave(async () => {
  await answer(api.PUT('/api/v1/rigs/{rig_id}/out-of-service', { ...path(), body: form }))
  open.value = false
  await refreshRig(id.value)
})
</script>

<template>
  <div>
    <button
      v-if="may('out') && (!sheet.out || sheet.out.may_sign_off)"
      type="button"
      class="link"
      :aria-expanded="open"
      @click="open ? (open = false) : begin()"
    >
      {{ sheet.out ? 'Change why it is out of service' : 'Take it out of service' }}
    </button>
    <EntryForm
      v-if="open"
      :refused="fields"
      class="mt-3 flex flex-wrap items-start gap-4 border-l-4 border-rust bg-paper px-4 py-3"
      @submit="save()"
    >
      <TextField v-model="form.why" label="Why it must not roll" name="why" class="w-80" required />
      <ChoiceField v-model="form.sign_off" label="Who signs it off" :choices="signs" name="sign_off" class="w-56" />
      <button class="button button-next mt-6" :disabled="busy">Out of service</button>
      <button type="button" class="link mt-8" @click="open = false">Not now</button>
      <Refusal :message="Object.keys(fields).length ? '' : message" />
    </EntryForm>
    <Opening label="When it was out of service" class="mt-1" @click="looked = true">
      <p v-if="back.data.value && !back.data.value.length" class="text-soft">Never, or it has not come back yet.</p>
      <p v-for="(s, i) in back.data.value ?? []" :key="i" class="border-t border-hairline py-1.5">
        {{ moment(s.since) }}, {{ s.out_by }}: {{ s.why }}. <b>Signed off {{ moment(s.at) }} by {{ s.by }}</b
        >: {{ s.done }}
      </p>
    </Opening>
  </div>
</template>
