<script setup lang="ts">
/** What is done to all the rigs that are chosen: their rounds given, a tag put on or off, archived, each taken back after; or printed. */
import { computed, ref } from 'vue'
import GiveRounds from '@/assignments/GiveRounds.vue'
import { refreshAll } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ ids: number[]; count: number; narrowed: boolean; prints: number }>()
const emit = defineEmits<{ all: []; end: [] }>()
const { may } = useSession()
type What = 'give' | 'tag' | 'untag' | 'archive'
const what = ref<What | ''>('')
const form = ref({ name: '' })
const done = ref<{ words: string; result: Schemas['ManyOut']; back: () => Promise<unknown> } | null>(null)
const spoken = (n: number) => `${n.toLocaleString('en-US')} ${n === 1 ? 'rig' : 'rigs'}`

const printed = computed(() => new URLSearchParams(props.ids.map((id) => ['rigs', String(id)])).toString())

const tag = (rigs: number[], name: string, on: boolean) =>
  answer(api.POST('/api/v1/tags', { body: { rigs, name, on } }))
const archive = (rigs: number[], archived: boolean) =>
  answer(api.POST('/api/v1/archived', { body: { rigs, archived } }))
const { save, busy, fields, message } = useSave(async (how: What) => {
  const { name } = form.value
  const result = how === 'archive' ? await archive(props.ids, true) : await tag(props.ids, name, how === 'tag')
  const words =
    how === 'archive' ? 'archived' : how === 'tag' ? `tagged “${name}”` : `without the tag “${name}” from here on`
  const { changed } = result
  const back = () => (how === 'archive' ? archive(changed, false) : tag(changed, name, how !== 'tag'))
  done.value = { words: `${spoken(changed.length)} ${words}.`, result, back }
  what.value = ''
  await refreshAll()
})
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
    <EntryForm
      v-else-if="what"
      :refused="fields"
      class="flex flex-wrap items-start gap-4 px-4 py-3"
      @submit="save(what as What)"
    >
      <p v-if="what === 'archive'" class="self-center">
        {{ spoken(ids.length) }} out of the Yard; their rounds stay readable, and they can be brought back.
      </p>
      <TextField v-else v-model="form.name" class="w-60" label="Tag" hint="A depot, a customer" name="name" />
      <button class="button button-next" :class="{ 'mt-6': what !== 'archive' }" :disabled="busy">
        {{ what === 'archive' ? 'Archive' : what === 'tag' ? 'Tag' : 'Take it off' }} {{ spoken(ids.length) }}
      </button>
      <button type="button" class="link" :class="what === 'archive' ? '' : 'mt-8'" @click="what = ''">Not now</button>
      <Refusal :message="Object.keys(fields).length ? '' : message" />
    </EntryForm>
    <div v-if="done" role="status" class="px-4 py-2">
      <p class="flex flex-wrap items-center gap-x-5">
        <b>{{ done.words }}</b>
        <button v-if="done.result.changed.length" type="button" class="link" @click="undo()">Take that back</button>
        <Refusal :message="not" />
      </p>
      <Opening v-if="done.result.not_done.length" :label="`${done.result.not_done.length} not`">
        <p v-for="n in done.result.not_done" :key="n.rig">
          <b>{{ n.name }}</b> {{ n.words }}
        </p>
      </Opening>
    </div>
  </div>
</template>
