<script setup lang="ts">
/** What hangs on what: hitch and unhitch, by menu or by dragging a trailer's name onto another. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import RigDrawing from '@/shared/RigDrawing.vue'
import TextField from '@/shared/TextField.vue'
import { useSession } from '@/shared/session'
import { useSave } from '@/shared/useSave'
import { useFrame } from './frame'
import { hitchable, refreshAll, rigName } from './queries'

const { id, sheet } = useFrame()
const { may } = useSession()
const router = useRouter()
const find = ref('')
const asked = refDebounced(find, 150)
const { data } = useQuery(computed(() => ({ ...hitchable(id.value, asked.value), placeholderData: keepPreviousData })))
const rig = computed(() => sheet.value.rig)
const train = computed(() => sheet.value.train)
const others = computed(() => data.value?.rigs ?? [])
const looksForFront = computed(() => data.value?.looks_for === 'front')
const choices = computed(() =>
  others.value.map((r) => ({ key: r.id, name: rigName(r), note: r.behind ? `behind ${r.behind}` : r.kind_name })),
)
/** There are more than are named: what is typed finds the others. */
const many = computed(() => find.value !== '' || (data.value?.found ?? 0) > others.value.length)
const chosen = ref<number | null>(null)
const last = ref<{ trailer: number; behind: number | null; words: string } | null>(null)

const {
  save: hitch,
  busy,
  message,
  fields,
} = useSave(async (trailer: number, behind: number | null, words: string) => {
  const before = train.value.findIndex((t) => t.id === trailer)
  const was = before > 0 ? train.value[before - 1]!.id : null
  await answer(api.PUT('/api/v1/rigs/{rig_id}/hitch', { params: { path: { rig_id: trailer } }, body: { behind } }))
  chosen.value = null
  last.value = { trailer, behind: was, words }
  await refreshAll()
})
function go() {
  if (chosen.value === null) return
  const other = others.value.find((r) => r.id === chosen.value)!
  const back = train.value.at(-1)!
  return looksForFront.value
    ? hitch(rig.value.id, chosen.value, `Hitched behind ${other.name}.`)
    : hitch(chosen.value, back.id, `${other.name} is hitched behind ${back.name}.`)
}
// -- dragging --------------------------------------------------------------------------------------
const over = ref<number | null>(null)
function drop(event: DragEvent, behind: number) {
  over.value = null
  const trailer = Number(event.dataTransfer?.getData('text/plain'))
  if (trailer && trailer !== behind) void hitch(trailer, behind, 'Hitched.')
}
</script>

<template>
  <section
    v-if="train.length > 1 || choices.length || many"
    class="mt-8 border-t border-hairline pt-4"
    aria-label="Combination"
  >
    <h2>Combination</h2>
    <RigDrawing
      v-if="train.length > 1"
      class="mt-2"
      :vehicles="train"
      :label="`${train.map((t) => t.name).join(' and ')}, to scale`"
    />
    <ol class="mt-2 flex flex-wrap items-center gap-2">
      <li v-for="(t, i) in train" :key="t.id" class="flex items-center gap-2">
        <span v-if="i" aria-hidden="true" class="text-soft">—</span>
        <span
          class="flex items-center gap-3 rounded-md border px-3 py-2"
          :class="over === t.id ? 'border-teal bg-tealwash' : 'border-hairline bg-paper'"
          :draggable="may('fit') && t.trailer"
          @dragstart="$event.dataTransfer?.setData('text/plain', String(t.id))"
          @dragover.prevent="over = t.id"
          @dragleave="over = null"
          @drop.prevent="drop($event, t.id)"
        >
          <RouterLink v-if="t.id !== id" :to="{ name: 'rig', params: { id: t.id } }">{{ rigName(t) }}</RouterLink>
          <b v-else>{{ rigName(t) }}</b>
          <button
            v-if="i && may('fit')"
            type="button"
            class="link text-sm"
            :disabled="busy"
            @click="hitch(t.id, null, `${t.name} is unhitched.`)"
          >
            Unhitch
          </button>
        </span>
      </li>
    </ol>
    <EntryForm
      v-if="may('fit') && (choices.length || many)"
      :refused="fields"
      class="mt-3 flex flex-wrap items-end gap-4"
      @submit="go"
    >
      <TextField v-if="many" v-model="find" class="w-60" :label="`Find among ${data?.found ?? 0}`" name="find" />
      <ChoiceField
        v-model="chosen"
        class="w-72"
        :label="looksForFront ? 'Hitch it behind' : `Hitch behind ${train.at(-1)!.name}`"
        :choices="choices"
        empty="Choose"
        name="behind"
      />
      <button class="button" :disabled="busy || chosen === null">Hitch</button>
    </EntryForm>
    <ul v-if="may('fit') && choices.length" class="mt-3 flex flex-wrap gap-2 text-sm max-lg:hidden">
      <li
        v-for="c in choices"
        :key="c.key"
        :draggable="!looksForFront"
        class="rounded-md border border-hairline bg-paper px-2.5 py-1"
        :class="{ 'cursor-grab': !looksForFront, 'border-teal bg-tealwash': over === c.key }"
        @dragstart="$event.dataTransfer?.setData('text/plain', String(c.key))"
        @dragover="looksForFront && ($event.preventDefault(), (over = c.key))"
        @dragleave="over = null"
        @drop.prevent="looksForFront && drop($event, c.key)"
      >
        {{ c.name }}
      </li>
      <li class="self-center text-soft">
        {{ looksForFront ? 'Drag the trailer onto its tow vehicle' : 'Drag a trailer onto the last vehicle' }}
      </li>
    </ul>
    <p v-if="last" class="mt-2">
      {{ last.words }}
      <button type="button" class="link" @click="hitch(last.trailer, last.behind, 'As it was.')">Undo</button>
    </p>
    <Refusal :message="fields.behind ? '' : message" />
    <p v-if="train.length > 1 && rig.head !== null" class="mt-2 text-sm text-soft">
      It is weighed hitched, and read in one round, from
      <button type="button" class="link" @click="router.push({ name: 'rig', params: { id: train[0]!.id } })">
        {{ train[0]!.name }}</button>.
    </p>
  </section>
</template>
