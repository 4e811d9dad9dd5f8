<script setup lang="ts">
/** Every tire read with a gauge, the spare too; one that cannot be read is left out with its reason. */
import { ref } from 'vue'
import type { Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import QuantityField from '@/shared/QuantityField.vue'
import TextField from '@/shared/TextField.vue'
import { say, type Entry } from '@/shared/units'

const props = defineProps<{
  wheels: { code: string; name: string }[]
  readings: Schemas['LampReadingIn'][]
  leftOut: Schemas['NotReadIn'][]
  judged: Schemas['LampWheel'][]
  refused: Record<string, string>
}>()
const emit = defineEmits<{ done: [readings: Schemas['LampReadingIn'][], left: Schemas['NotReadIn'][]] }>()
const typed = ref<Record<string, Entry>>(Object.fromEntries(props.readings.map((r) => [r.wheel, r.pressure])))
const reasons = ref<Record<string, string>>(Object.fromEntries(props.leftOut.map((o) => [o.wheel, o.reason])))
const leaving = ref<string[]>(props.leftOut.map((o) => o.wheel))
const WHY = ['Under the bed', 'Behind a cover', 'Not aboard']
const messageOf = (code: string) => {
  const at = props.readings.findIndex((r) => r.wheel === code)
  return props.refused[`readings.${at}.pressure`]
}
const saidOf = (code: string) => props.judged.find((w) => w.code === code)
const leave = (code: string) =>
  (leaving.value = leaving.value.includes(code) ? leaving.value.filter((c) => c !== code) : [...leaving.value, code])
function done() {
  const read = props.wheels.filter((w) => !leaving.value.includes(w.code) && typed.value[w.code])
  const left = props.wheels.filter((w) => leaving.value.includes(w.code) && reasons.value[w.code]?.trim())
  emit(
    'done',
    read.map((w) => ({ wheel: w.code, pressure: typed.value[w.code] as Schemas['LampReadingIn']['pressure'] })),
    left.map((w) => ({ wheel: w.code, reason: reasons.value[w.code]! })),
  )
}
</script>

<template>
  <EntryForm @submit="done">
    <div class="grid grid-cols-2 items-start gap-3 sm:grid-cols-4">
      <div v-for="w in wheels" :key="w.code">
        <TextField
          v-if="leaving.includes(w.code)"
          v-model="reasons[w.code]!"
          :label="`${w.name}: why not`"
          :suggest="WHY"
        />
        <QuantityField
          v-else
          :model-value="typed[w.code] ?? null"
          :label="w.name"
          kind="pressure"
          :message="messageOf(w.code)"
          @update:model-value="(v) => (typed = { ...typed, [w.code]: v })"
        />
        <p v-if="saidOf(w.code)" class="text-sm" :class="saidOf(w.code)!.word === 'hold' ? 'text-green' : 'text-rust'">
          {{ say(saidOf(w.code)!.words) }}
        </p>
        <button type="button" class="link min-h-9 text-sm" @click="leave(w.code)">
          {{ leaving.includes(w.code) ? 'Read it after all' : 'Cannot be read' }}
        </button>
      </div>
    </div>
    <button class="button button-next mt-3 min-h-11">Go on with these</button>
  </EntryForm>
</template>
