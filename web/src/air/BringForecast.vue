<script setup lang="ts">
/** A forecast of one's own: lines pasted, or a CSV whose columns are chosen, read back day by day before it is used. */
import { computed, ref, watch } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import FileField from '@/shared/FileField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { show, spokenDay, today, unitOf } from '@/shared/units'
import { useWork } from '@/shared/useWork'

const emit = defineEmits<{ use: [days: Schemas['ForecastDay'][]]; leave: [] }>()
const text = ref('')
const columns = ref<Schemas['Columns'] | null>(null)
watch(text, () => (columns.value = null))
const work = useWork(
  () => (text.value.trim() ? { text: text.value, columns: columns.value, today: today() } : null),
  (body) => answer(api.POST('/api/v1/work/air/forecast', { body })),
)
const read = computed(() => (text.value.trim() ? work.answer.value : null))
const PARTS = [
  { key: 'day' as const, name: 'The day' },
  { key: 'low' as const, name: 'The low' },
  { key: 'high' as const, name: 'The high' },
]
/** What was chosen so far; the server is asked once day and low are. */
const choosing = ref<{ day: number | null; low: number | null; high: number | null }>({
  day: null,
  low: null,
  high: null,
})
watch(
  () => read.value?.columns,
  (now) => (choosing.value = now ? { ...now, high: now.high ?? null } : { day: null, low: null, high: null }),
)
function choose(part: 'day' | 'low' | 'high', at: number | null) {
  choosing.value = { ...choosing.value, [part]: at }
  const { day, low, high } = choosing.value
  if (day !== null && low !== null) columns.value = { day, low, high }
}
const heads = computed(() => [
  { key: null as number | null, name: 'not there' },
  ...(read.value?.heads ?? []).map((name, i) => ({ key: i as number | null, name })),
])
function take(file: Schemas['FileIn']) {
  const bytes = Uint8Array.from(atob(file.content), (c) => c.charCodeAt(0))
  text.value = new TextDecoder(bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : 'utf-8').decode(bytes)
}
</script>

<template>
  <div class="max-w-2xl border-l-4 border-buoy bg-paper px-4 py-3">
    <TextField
      v-model="text"
      :lines="6"
      label="A line a day: the day, its low, its high"
      :hint="`As “Sat 28 45” or “2026-11-29, -2 C, 8 C”; a bare number is in ${unitOf('temperature')}`"
      :message="work.fields.value.text"
    />
    <FileField class="mt-3" label="Or a CSV" accept=".csv,.txt,text/csv,text/plain" @chosen="take" />
    <div v-if="read?.heads.length" class="mt-3 grid gap-3 sm:grid-cols-3">
      <ChoiceField
        v-for="p in PARTS"
        :key="p.key"
        :model-value="choosing[p.key]"
        :label="p.name"
        :choices="heads"
        @update:model-value="choose(p.key, $event)"
      />
    </div>
    <div v-if="read" :class="{ stale: work.stale.value }">
      <ul class="mt-3">
        <li v-for="r in read.refused" :key="r.line">
          <Refusal :message="r.line ? `Line ${r.line}: ${r.words}` : r.words" />
        </li>
      </ul>
      <ul v-if="read.days.length" class="mt-2 grid grid-cols-2 gap-x-6 text-sm sm:grid-cols-3" aria-label="Understood">
        <li v-for="d in read.days" :key="d.on" class="border-t border-hairline py-1">
          {{ spokenDay(d.on) }}: <b>{{ show('temperature', d.low_c) }}</b>{{
            d.high_c === null || d.high_c === undefined ? '' : ` to ${show('temperature', d.high_c)}`
          }}
        </li>
      </ul>
    </div>
    <p class="mt-3 flex flex-wrap items-center gap-4">
      <button
        type="button"
        class="button button-next"
        :disabled="!read?.days.length || Boolean(read.refused.length) || work.stale.value"
        @click="emit('use', read!.days)"
      >
        Use these days
      </button>
      <button type="button" class="link" @click="emit('leave')">Leave it</button>
      <Refusal :message="work.fields.value.text ? '' : work.message.value" />
    </p>
  </div>
</template>
