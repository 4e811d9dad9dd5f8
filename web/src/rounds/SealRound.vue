<script setup lang="ts">
/** The end of a round: what stands in words, what stays open, why a wheel was not read, and the name under it. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { say } from '@/shared/units'
import { useOpened } from '@/shared/useOpened'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ round: Schemas['RoundOut']; unread: Schemas['RoundWheelOut'][] }>()
const emit = defineEmits<{ leave: [] }>()
const { id } = useFrame()
const { shown: me } = useSession()
const router = useRouter()
const box = ref<HTMLElement>()
useOpened(box)
const reason = ref('')
const signed = ref('')
/** Wheels that were read and have no target number: said, or it is not sealed. */
const bare = computed(() => props.round.wheels.filter((w) => w.before !== null && w.here_kpa === null))
const said = ref(false)
/** Who took wheels that are not read yet, on a phone that may have them. */
const holding = computed(() =>
  props.round.takes
    .filter((t) => t.person !== me.value?.person)
    .map((t) => ({
      name: t.name,
      wheels: props.unread.filter((w) => t.wheels.includes(w.code)).map((w) => w.code),
    }))
    .filter((t) => t.wheels.length),
)
const {
  save: seal,
  busy,
  fields,
  message,
} = useSave(async () => {
  const sealed = props.round.id
  await answer(
    api.POST('/api/v1/rounds/{round_id}/seal', {
      params: { path: { round_id: sealed } },
      body: {
        unread_reason: reason.value,
        signed: signed.value.trim() || (me.value?.name ?? ''),
        without_target: said.value,
      },
    }),
  )
  await refreshRig(id.value)
  await router.push({ name: 'sealed', params: { id: id.value, round: sealed } })
})
</script>

<template>
  <div ref="box">
    <EntryForm :refused="fields" class="border-l-4 border-buoy pl-4" @submit="seal()">
      <h2>Seal the round</h2>
      <p class="font-medium first-letter:uppercase">{{ round.summary }}</p>
      <ul v-if="round.open_matters.length">
        <li v-for="m in round.open_matters" :key="m" class="text-sm text-rust">{{ m }}</li>
      </ul>
      <p v-for="t in holding" :key="t.name" class="font-medium text-rust">
        {{ t.name }} still has {{ t.wheels.join(', ') }}, not read yet.
      </p>
      <label v-if="bare.length" class="mt-2 flex max-w-3xl items-start gap-2 font-medium text-rust">
        <input v-model="said" type="checkbox" class="mt-1 size-5 shrink-0 accent-teal" />
        <span
          >No target number is known for {{ bare.map((w) => w.name).join(', ') }}:
          {{ bare[0]!.missing ? say(bare[0]!.missing) : 'none is in force.' }} Seal it so.</span
        >
      </label>
      <div class="mt-2 flex max-w-3xl flex-wrap items-end gap-3">
        <TextField
          v-if="unread.length"
          v-model="reason"
          class="min-w-60 flex-1"
          :label="`Not read: ${unread.map((w) => w.name).join(', ')}. Why?`"
          name="unread_reason"
        />
        <TextField v-model="signed" class="min-w-48" label="Signed" :placeholder="me?.name" />
        <button
          class="button button-next"
          :disabled="busy || Boolean(unread.length && !reason.trim()) || Boolean(bare.length && !said)"
        >
          {{ unread.length ? 'Seal without them' : 'Sign and seal' }}
        </button>
        <button type="button" class="link min-h-10" @click="emit('leave')">Go on reading</button>
      </div>
      <Refusal v-if="!fields.unread_reason" :message="message" />
    </EntryForm>
  </div>
</template>
