<script setup lang="ts">
/** A round that was written on paper first: its lines, entered at once. Enter goes on to the next. */
import { reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useFrame } from '@/rigs/frame'
import { refreshRig, walked } from '@/rigs/queries'
import { answer, api, refusedOf, type Schemas } from '@/shared/api/client'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import type { Entry } from '@/shared/units'
import RoundConditions from './RoundConditions.vue'

const emit = defineEmits<{ leave: [] }>()
const { id, sheet } = useFrame()
const router = useRouter()
type Line = {
  wheel: string
  name: string
  before: Entry
  after: Entry
  leak: boolean
  cap: boolean
  note: string
  skipped: string
}
const lines = reactive<Line[]>(
  walked(sheet.value).map((w) => ({
    wheel: w.code,
    name: `${w.name} · ${w.code}`,
    before: null,
    after: null,
    leak: false,
    cap: false,
    note: '',
    skipped: '',
  })),
)
const signed = ref('')
/** When the sheet was filled in, by the clock here. */
const readAt = ref('')
const said = ref(false)
const fields = ref<Record<string, string>>({})
const message = ref('')
const form = ref<HTMLElement>()
const filled = () => lines.filter((l) => l.before !== null || l.skipped.trim())
const of = (line: Line, name: string) => fields.value[`wheels.${filled().indexOf(line)}.${name}`]

async function save(conditions: Schemas['ConditionsIn'], done: (error?: unknown) => void) {
  fields.value = {}
  message.value = ''
  try {
    const made = await answer(
      api.POST('/api/v1/rigs/{rig_id}/rounds/quick', {
        params: { path: { rig_id: id.value } },
        body: {
          conditions,
          wheels: filled().map(({ wheel, before, after, leak, cap, note, skipped }) => ({
            wheel,
            before,
            after,
            skipped,
            ...(leak ? { leak: 'heard' as const } : {}),
            ...(cap ? { cap: 'missing' as const } : {}),
            ...(note.trim() ? { note } : {}),
          })),
          signed: signed.value,
          ...(readAt.value ? { read_at: new Date(readAt.value).toISOString() } : {}),
          seal: true,
          without_target: said.value,
        },
      }),
    )
    await refreshRig(id.value)
    done()
    await router.push({ name: 'sealed', params: { id: id.value, round: made.id } })
  } catch (error) {
    const no = refusedOf(error)
    fields.value = no.fields
    message.value = no.message
    done(error)
  }
}
function onward(event: KeyboardEvent) {
  const inputs = [...(form.value?.querySelectorAll<HTMLInputElement>('input[data-line]') ?? [])]
  inputs[inputs.indexOf(event.target as HTMLInputElement) + 1]?.focus()
}
</script>

<template>
  <div>
    <label class="block max-w-72">
      <span class="block text-sm text-soft">Read at, as on the sheet</span>
      <input v-model="readAt" type="datetime-local" class="field mt-1 w-full" />
      <span v-if="fields.read_at" class="text-sm font-medium text-rust" role="alert">{{ fields.read_at }}</span>
      <span v-else class="text-sm text-soft">Empty: now</span>
    </label>
    <div ref="form" class="mt-3 max-w-3xl">
      <div
        v-for="l in lines"
        :key="l.wheel"
        class="grid grid-cols-2 items-end gap-x-4 gap-y-1 border-t border-hairline py-2 sm:grid-cols-[minmax(0,1fr)_8rem_8rem_minmax(0,1fr)]"
      >
        <p class="col-span-2 font-medium sm:col-span-1 sm:pb-2">{{ l.name }}</p>
        <QuantityField
          v-model="l.before"
          data-line
          label="Found"
          kind="pressure"
          :message="of(l, 'before')"
          @keydown.enter.prevent="onward"
        />
        <QuantityField v-model="l.after" label="Left" kind="pressure" :message="of(l, 'after')" />
        <TextField
          v-if="l.before === null"
          v-model="l.skipped"
          class="max-sm:col-span-2"
          label="Not read, because"
          :message="of(l, 'wheel')"
        />
        <TextField v-else v-model="l.note" class="max-sm:col-span-2" label="Note" />
        <p v-if="l.before !== null" class="col-span-2 flex gap-5 text-sm sm:col-span-4">
          <label class="flex min-h-8 items-center gap-2"
            ><input v-model="l.leak" type="checkbox" class="size-5 accent-teal" /> Leak heard</label
          >
          <label class="flex min-h-8 items-center gap-2"
            ><input v-model="l.cap" type="checkbox" class="size-5 accent-teal" /> Cap missing</label
          >
        </p>
      </div>
      <label v-if="fields.without_target" class="mt-3 flex items-start gap-2 font-medium text-rust">
        <input v-model="said" type="checkbox" class="mt-1 size-5 shrink-0 accent-teal" />
        <span>{{ fields.without_target }}</span>
      </label>
      <TextField v-model="signed" class="mt-3 max-w-72" label="Signed" />
    </div>
    <RoundConditions
      class="mt-5"
      :air="sheet.air.air"
      :rig="id"
      :ground="sheet.ground"
      action="Enter and seal it"
      @save="save"
    >
      <button type="button" class="link" @click="emit('leave')">Leave the sheet</button>
    </RoundConditions>
    <Refusal :message="message" />
  </div>
</template>
