<script setup lang="ts">
/** What is done to all the rigs that are chosen: their rounds given, a tag put on or off, the days between checks, archived, each taken back after; or printed. */
import { computed, ref } from 'vue'
import GiveRounds from '@/assignments/GiveRounds.vue'
import { refreshAll } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { spokenDays } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import TargetsOfMany from '@/targets/TargetsOfMany.vue'

const props = defineProps<{ ids: number[]; count: number; narrowed: boolean; prints: number }>()
const emit = defineEmits<{ all: []; end: [] }>()
const { may, session } = useSession()
type Form = 'tag' | 'untag' | 'check' | 'archive'
type What = Form | 'give' | 'aim'
const what = ref<What | ''>('')
/** What the form here is asked for of; rounds and targets have one of their own. */
const deed = computed(() => (what.value === 'give' || what.value === 'aim' ? '' : what.value))
const form = ref<{ name: string; days: number | null }>({ name: '', days: null })
interface Done {
  changed: number[]
  not_done: Schemas['ManyOut']['not_done']
  back: () => Promise<unknown>
}
const done = ref<(Done & { words: string }) | null>(null)
const spoken = (n: number) => `${n.toLocaleString('en-US')} ${n === 1 ? 'rig' : 'rigs'}`

const printed = computed(() => new URLSearchParams(props.ids.map((id) => ['rigs', String(id)])).toString())

const tag = (rigs: number[], name: string, on: boolean) =>
  answer(api.POST('/api/v1/tags', { body: { rigs, name, on } }))
const archive = (rigs: number[], archived: boolean) =>
  answer(api.POST('/api/v1/archived', { body: { rigs, archived } }))
const every = (rigs: number[], days: number | null) => answer(api.POST('/api/v1/check-days', { body: { rigs, days } }))
const rhythm = (days: number | null) => (days === null ? 'as the workspace has it' : `every ${spokenDays(days)}`)

/** Each: what is done, and what takes it back. */
const DEEDS: Record<Form, () => Promise<Done & { said: string }>> = {
  async archive() {
    const result = await archive(props.ids, true)
    return { ...result, said: 'archived', back: () => archive(result.changed, false) }
  },
  tag: () => tagged(true, `tagged “${form.value.name}”`),
  untag: () => tagged(false, `without the tag “${form.value.name}” from here on`),
  async check() {
    const { days } = form.value
    const { were } = await every(props.ids, days)
    const back = () => Promise.all(were.map((w) => every(w.rigs, w.days)))
    const said = `checked ${rhythm(days)}, from the next round of each on`
    return { changed: were.flatMap((w) => w.rigs), not_done: [], said, back }
  },
}
async function tagged(on: boolean, said: string) {
  const { name } = form.value
  const result = await tag(props.ids, name, on)
  return { ...result, said, back: () => tag(result.changed, name, !on) }
}
const { save, busy, fields, message } = useSave(async (how: Form) => {
  const { said, ...rest } = await DEEDS[how]()
  done.value = { ...rest, words: `${spoken(rest.changed.length)} ${said}.` }
  what.value = ''
  await refreshAll()
})
const PRESSES = { tag: 'Tag', untag: 'Take it off', check: 'Set it for', archive: 'Archive' }
const { save: undo, message: not } = useSave(async () => {
  await done.value!.back()
  done.value = null
  await refreshAll()
})
</script>

<template>
  <div class="sticky top-0 z-10 border border-hairline bg-paper">
    <div class="flex flex-wrap items-center gap-x-5 gap-y-1 bg-tealwash px-4 py-2" role="status">
      <b>{{ spoken(ids.length) }} chosen</b>
      <button type="button" class="link" @click="emit('all')">
        All {{ count.toLocaleString('en-US') }}{{ narrowed ? ' that fit' : '' }}
      </button>
      <template v-if="ids.length">
        <button v-if="may('assign')" type="button" class="link" @click="what = 'give'">Give their rounds</button>
        <button v-if="may('rigs')" type="button" class="link" @click="what = 'tag'">Tag</button>
        <button v-if="may('rigs')" type="button" class="link" @click="what = 'untag'">Take a tag off</button>
        <button v-if="may('targets')" type="button" class="link" @click="what = 'aim'">Targets</button>
        <button v-if="may('targets')" type="button" class="link" @click="what = 'check'">Days between checks</button>
        <button v-if="may('rigs')" type="button" class="link" @click="what = 'archive'">Archive</button>
        <template v-if="ids.length <= prints">
          <a class="link" :href="`/api/v1/yard/cards.pdf?${printed}`" download>Cards, PDF</a>
          <a class="link" :href="`/api/v1/yard/sheets.pdf?${printed}`" download>Blank rounds, PDF</a>
        </template>
        <span v-else class="text-soft">Cards and blank rounds print {{ prints }} at a time</span>
      </template>
      <button type="button" class="link" @click="emit('end')">Choose none, and stop</button>
    </div>
    <GiveRounds v-if="what === 'give' && ids.length" :rigs="ids" @done="emit('end')" />
    <TargetsOfMany v-else-if="what === 'aim' && ids.length" :key="ids.join()" :rigs="ids" @done="what = ''" />
    <EntryForm
      v-else-if="deed"
      :refused="fields"
      class="flex flex-wrap items-start gap-4 px-4 py-3"
      @submit="save(deed)"
    >
      <p v-if="what === 'archive'" class="self-center">
        {{ spoken(ids.length) }} out of the Yard; their rounds stay readable, and they can be brought back.
      </p>
      <ChoiceField
        v-else-if="what === 'check'"
        v-model="form.days"
        class="w-72"
        label="Checked, from the next round of each on"
        :choices="[null, ...(session?.check_days ?? [])].map((d) => ({ key: d, name: rhythm(d) }))"
        name="days"
      />
      <TextField v-else v-model="form.name" class="w-60" label="Tag" hint="A depot, a customer" name="name" />
      <button class="button button-next" :class="{ 'mt-6': what !== 'archive' }" :disabled="busy">
        {{ PRESSES[deed] }} {{ spoken(ids.length) }}
      </button>
      <button type="button" class="link" :class="what === 'archive' ? '' : 'mt-8'" @click="what = ''">Not now</button>
      <Refusal :message="Object.keys(fields).length ? '' : message" />
    </EntryForm>
    <div v-if="done" role="status" class="px-4 py-2">
      <p class="flex flex-wrap items-center gap-x-5">
        <b>{{ done.words }}</b>
        <button v-if="done.changed.length" type="button" class="link" @click="undo()">Take that back</button>
        <Refusal :message="not" />
      </p>
      <Opening v-if="done.not_done.length" :label="`${done.not_done.length} not`">
        <p v-for="n in done.not_done" :key="n.rig">
          <b>{{ n.name }}</b> {{ n.words }}
        </p>
      </Opening>
    </div>
  </div>
</template>
