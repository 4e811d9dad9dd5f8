<script setup lang="ts">
/** What is seen at a wheel beside its pressure. Each tap is kept at once, with or without a network. */
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import { jot } from '@/shared/outbox'
import Pictures from '@/shared/Pictures.vue'
import Presses from '@/shared/Presses.vue'
import QuantityField from '@/shared/QuantityField.vue'
import TextField from '@/shared/TextField.vue'
import { say, depthShown, type Entry } from '@/shared/units'
import { showOpened } from '@/shared/useOpened'

const props = defineProps<{
  round: number
  rig: string
  rigId: number
  wheel: Schemas['RoundWheelOut']
  pending: Schemas['WheelNoteIn'][]
}>()
type Note = Omit<Schemas['WheelNoteIn'], 'wheel'>
const tell = (note: Note) => jot(props.round, props.rig, { wheel: props.wheel.code, ...note } as Schemas['WheelNoteIn'])
/** What stands, with what is still on its way laid over it. */
const seen = computed(() => {
  const now: Schemas['WheelNoteOut'] = { ...props.wheel.seen }
  for (const n of props.pending)
    for (const k of ['leak', 'cap', 'valve', 'damage', 'note', 'skipped', 'inspected'] as const)
      if (n[k] !== null && n[k] !== undefined) now[k] = n[k]
  return now
})
const TOGGLES = [
  { key: 'leak', on: 'heard', off: 'none', words: 'Leak heard', letter: 'L' },
  { key: 'leak', on: 'bubbled', off: 'none', words: 'Leak bubbled', letter: '' },
  { key: 'cap', on: 'missing', off: 'on', words: 'Cap missing', letter: 'C' },
  { key: 'cap', on: 'fitted', off: 'on', words: 'Cap fitted', letter: '' },
  { key: 'valve', on: 'damaged', off: 'good', words: 'Valve damaged', letter: 'V' },
] as const
function toggle(t: (typeof TOGGLES)[number]) {
  void tell({ [t.key]: seen.value[t.key] === t.on ? t.off : t.on })
}
const blank = () => ({
  damage: '',
  note: '',
  inner: null as Entry,
  centre: null as Entry,
  outer: null as Entry,
  sensor: null as Entry,
  display: null as Entry,
  rolled: false,
  inspected: '',
})
const more = reactive({ ...blank(), whose: null as number | null })
/** Displays that can learn their offset here: of inflators, dashboards and sensors. */
const gauges = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')) })
const displays = computed(() => (gauges.data.value ?? []).filter((g) => g.learns && !g.retired))
/** What is opened at this wheel: why it is skipped, or a note. */
const opened = ref<'' | 'skip' | 'note'>('')
const REASONS = ['Cannot reach it', 'Spare under the load', 'Sun on it'].map((r) => ({ key: r, name: r }))
const openedForm = ref<HTMLElement>()
const pictures = ref<InstanceType<typeof Pictures>>()
watch(opened, async (now) => {
  await nextTick()
  if (now) showOpened(openedForm.value, 'input')
})
const why = ref('')
watch(
  () => props.wheel.code,
  () => {
    Object.assign(more, blank())
    opened.value = ''
    why.value = ''
  },
)
function keepMore() {
  const note: Note = {}
  if (more.damage.trim()) note.damage = more.damage
  if (more.note.trim()) note.note = more.note
  if (more.sensor !== null) note.sensor = more.sensor
  if (more.display !== null)
    Object.assign(note, {
      display: more.display,
      display_gauge: more.whose,
      display_rolled: more.rolled,
    })
  if (more.inner !== null || more.centre !== null || more.outer !== null)
    note.tread = { inner: more.inner, centre: more.centre, outer: more.outer }
  if (Object.keys(note).length) void tell(note)
  Object.assign(more, { ...blank(), inspected: more.inspected })
}
function skip() {
  void tell({ skipped: why.value.trim() })
  opened.value = ''
  why.value = ''
}
function inspect() {
  void tell({ inspected: more.inspected.trim() })
  more.inspected = ''
}
function writeDown() {
  if (more.note.trim()) void tell({ note: more.note })
  more.note = ''
  opened.value = ''
}
defineExpose({
  heard: computed(() => seen.value.leak === 'heard'),
  capless: computed(() => seen.value.cap === 'missing'),
  write: () => (opened.value = 'note'),
  photograph: () => pictures.value?.choose(),
  letter: (code: string) => {
    const toggled = TOGGLES.find((t) => t.letter && `Key${t.letter}` === code)
    if (toggled) toggle(toggled)
    else if (code === 'KeyS') opened.value = 'skip'
    else return false
    return true
  },
})
const treads = computed(() => {
  const t = props.wheel.seen.tread
  if (!t) return ''
  const of = (name: string, mm: number | null) => (mm === null ? '' : `${name} ${depthShown(mm)}`)
  return [of('inner', t.inner_mm), of('centre', t.centre_mm), of('outer', t.outer_mm)].filter(Boolean).join(', ')
})
</script>

<template>
  <div>
    <div class="flex flex-wrap gap-2" role="group" aria-label="Seen at this wheel">
      <button
        v-for="t in TOGGLES"
        :key="t.words"
        type="button"
        class="press chip warns min-h-10 px-3"
        :aria-pressed="seen[t.key] === t.on"
        :title="t.letter ? `Alt+${t.letter}` : undefined"
        @click="toggle(t)"
      >
        {{ seen[t.key] === t.on ? '✓ ' : '' }}{{ t.words }}
      </button>
      <button
        v-if="!wheel.before"
        type="button"
        class="press chip min-h-10 px-3"
        title="Alt+S"
        @click="opened = 'skip'"
      >
        Skip it
      </button>
      <Pictures
        ref="pictures"
        class="contents"
        :rig="rigId"
        :rig-name="rig"
        :of="{ round, wheel: wheel.code }"
        label="Picture"
        chip
        may-take
      />
    </div>
    <p v-if="seen.skipped" class="mt-2 font-medium text-rust">
      Skipped: {{ seen.skipped }}. It stays open in the Yard.
      <button type="button" class="link" @click="tell({ skipped: '' })">Read it after all</button>
    </p>
    <!-- On a phone above the keypad, which covers what lies lower. -->
    <div v-if="opened" ref="openedForm" class="max-sm:scroll-mb-84 beside:scroll-mb-2">
      <EntryForm v-if="opened === 'note'" class="mt-2 flex max-w-xl flex-wrap items-end gap-3" @submit="writeDown">
        <TextField v-model="more.note" class="min-w-52 flex-1" :label="`Note on ${wheel.name.toLowerCase()}`" />
        <button class="button min-h-11">Note it</button>
        <button type="button" class="link min-h-11" @click="opened = ''">Leave it</button>
      </EntryForm>
      <EntryForm v-else class="mt-2 flex max-w-xl flex-wrap items-end gap-3" @submit="skip">
        <div class="flex w-full flex-wrap gap-2" role="group" aria-label="Usual reasons">
          <Presses v-model="why" :choices="REASONS" look="chip min-h-11 px-3" />
        </div>
        <TextField v-model="why" class="min-w-52 flex-1" :label="`Why is ${wheel.name.toLowerCase()} not read?`" />
        <button class="button min-h-11" :disabled="!why.trim()">Skip it</button>
        <button type="button" class="link min-h-11" @click="opened = ''">Read it</button>
      </EntryForm>
    </div>
    <EntryForm v-if="wheel.locked" class="mt-2 border-l-4 border-rust pl-3" @submit="inspect">
      <p class="font-medium text-rust">
        Locked: no air is recorded before an inspection is. Has it not rolled like this, say so above.
      </p>
      <div class="mt-1 flex max-w-xl flex-wrap items-end gap-3">
        <TextField v-model="more.inspected" class="min-w-52 flex-1" label="What the inspection found, and by whom" />
        <button class="button" :disabled="!more.inspected.trim()">Record the inspection</button>
      </div>
    </EntryForm>
    <p v-for="(w, i) in wheel.seen.words" :key="i" class="mt-1 text-sm font-medium">{{ say(w) }}</p>
    <p v-if="treads || wheel.seen.note" class="mt-1 text-sm text-soft">
      {{ [treads, wheel.seen.note].filter(Boolean).join('. ') }}
    </p>
    <Opening label="Tread, damage, its own sensor, a note" class="mt-1">
      <EntryForm @submit="keepMore">
        <div class="grid max-w-3xl grid-cols-2 gap-3 sm:grid-cols-3">
          <TextField v-model="more.damage" label="Damage" />
          <QuantityField v-model="more.sensor" label="Its sensor shows" kind="pressure" />
          <ChoiceField
            v-if="displays.length"
            v-model="more.whose"
            label="Which display"
            :choices="[
              { key: null, name: 'None' },
              ...displays.map((g) => ({ key: g.id as number | null, name: g.label })),
            ]"
          />
          <QuantityField v-model="more.display" label="The display shows" kind="pressure" />
          <label v-if="more.display !== null" class="col-span-2 flex min-h-10 items-center gap-2 sm:col-span-3"
            ><input v-model="more.rolled" type="checkbox" class="size-5 accent-teal" /> It has rolled since that number
            last changed: held against what was read here last</label
          >
          <TextField v-model="more.inner as string" label="Tread, inner" hint="6 mm or 7/32 in" />
          <TextField v-model="more.centre as string" label="Tread, center" />
          <TextField v-model="more.outer as string" label="Tread, outer" />
          <TextField v-model="more.note" class="col-span-2" label="Note" />
        </div>
        <div class="mt-3 flex flex-wrap items-start gap-3">
          <button class="button min-h-11">Note it</button>
          <Pictures
            v-for="what in ['damage', 'wear'] as const"
            :key="what"
            :rig="rigId"
            :rig-name="rig"
            :of="{ round, wheel: wheel.code, what }"
            :label="`Picture of the ${what}`"
            bare
            may-take
          />
        </div>
      </EntryForm>
    </Opening>
  </div>
</template>
