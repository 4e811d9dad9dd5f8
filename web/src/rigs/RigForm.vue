<script setup lang="ts">
/** A rig as one walks around it: pick a place on the plan, and only what is read there is asked. */
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import { photograph } from '@/shared/outbox'
import Pictures from '@/shared/Pictures.vue'
import Refusal from '@/shared/Refusal.vue'
import { metersOf } from '@/shared/units'
import DraftBack from '@/shared/DraftBack.vue'
import { useDraft } from '@/shared/useDraft'
import { useSave } from '@/shared/useSave'
import AxleEditor from './AxleEditor.vue'
import PlaceParts from './PlaceParts.vue'
import { usePlaces } from './places'
import { refreshRig } from './queries'
import { rigBody } from './rigForm'
import { useRigForm } from './useRigForm'

const props = defineProps<{ id?: number; copy?: number }>()
const route = useRoute()
const router = useRouter()
const rig = useRigForm(props)
const { form, stored, draft, kind, trailer, work, axles, removed } = rig
const places = usePlaces(rig)

/** The place in hand stands in the address: Back goes to the one before. */
const at = computed(() =>
  Math.max(
    0,
    places.value.findIndex((p) => p.key === route.query.at),
  ),
)
const place = computed(() => places.value[at.value]!)
const next = computed(() => places.value[at.value + 1])
const axleAt = computed(() => (place.value.key.startsWith('axles.') ? Number(place.value.key.slice(6)) : null))
const panel = ref<HTMLElement>()
const chips = ref<HTMLElement>()
async function go(key: string) {
  await router.push({ query: { ...route.query, at: key } })
  await nextTick()
  chips.value?.querySelector('[aria-pressed="true"]')?.scrollIntoView({ block: 'nearest', inline: 'center' })
  panel.value?.querySelector<HTMLElement>('input, textarea, button')?.focus()
}

/** Seen beside the fields that are read off it; of a rig that is not saved yet it waits here. */
const pictured = computed(() =>
  place.value.key === 'label' ? 'label' : /^(axles|spare)/.test(place.value.key) ? 'sidewall' : null,
)
const pictures = ref<Schemas['PictureIn'][]>([])
const draftPictures = useDraft(() => `pictures ${props.copy ?? 'new'}`, pictures)
/** Pictures go with what they were taken of: none is left for the next rig. */
function throwAway() {
  draft.throwAway()
  draftPictures.throwAway()
}

const { save, busy, fields, message, newer } = useSave(async (on: string) => {
  const body = rigBody(form.value, trailer.value, newer.value)
  const saved = props.id
    ? await answer(api.PUT('/api/v1/rigs/{rig_id}', { params: { path: { rig_id: props.id } }, body }))
    : await answer(api.POST('/api/v1/rigs', { body }))
  draft.saved()
  for (const p of pictures.value) void photograph(saved.id, saved.name, p)
  pictures.value = []
  draftPictures.saved()
  await refreshRig(saved.id)
  await router.push({ name: on, params: { id: saved.id } })
})
/** Refused when it was sent; each is gone once something else is typed there. */
const refused = ref<Record<string, { words: string; of: unknown }>>({})
async function submit(on: string) {
  await save(on)
  refused.value = Object.fromEntries(
    Object.entries(fields.value).map(([field, words]) => [field, { words, of: valueAt(field) }]),
  )
  const there = places.value.find((p) => p.parts.some((part) => Object.keys(fields.value).some((f) => asks(part, f))))
  if (there && there.key !== place.value.key) await go(there.key)
  await nextTick()
  document.querySelector<HTMLElement>('[aria-invalid="true"]')?.focus()
}
const asks = (part: (typeof place.value.parts)[number], field: string) =>
  [...part.entries, ...(part.seldom ?? [])].some((e) => (part.under ? `${part.under}.${e.name}` : e.name) === field)
const valueAt = (field: string) =>
  field.split('.').reduce<unknown>((here, key) => (here as Record<string, unknown> | undefined)?.[key], form.value)

/** An empty field is refused only once somebody has tried to save; anything else at once. */
function no(field: string): string | undefined {
  const sent = refused.value[field]
  if (sent && sent.of === valueAt(field)) return sent.words
  const value = valueAt(field)
  return value === '' || value === null || value === undefined ? undefined : work.fields.value[field]
}
/** A place somewhere else that holds something refused. */
const faulty = (key: string) =>
  places.value
    .find((p) => p.key === key)
    ?.parts.some((part) => Object.keys(work.fields.value).some((f) => asks(part, f)))
/** The outline is the person's own from then on. */
const typed = (name: string) => ['position_m', 'wheels'].includes(name) && (rig.ownAxles.value = true)
watch(
  () => form.value.axles.length,
  (count) => axleAt.value !== null && axleAt.value >= count && void go(`axles.${count - 1}`),
)
</script>

<template>
  <main id="stage" class="mx-auto max-w-6xl min-w-0 px-4 py-5 lg:px-7">
    <div class="flex flex-wrap items-baseline justify-between gap-x-6">
      <h1>
        {{ id ? `Change ${stored?.name ?? 'rig'}` : copy ? `A rig like ${stored?.name ?? 'that'}` : 'Add a rig' }}
      </h1>
      <p class="text-soft">
        {{ places.filter((p) => p.read).length }} of {{ places.length }} places read. Any order; leave what you cannot
        read.
      </p>
    </div>
    <DraftBack :taken="draft.taken.value" @away="throwAway" />
    <EntryForm :refused="no" class="mt-2" @submit="submit(id ? 'rig' : 'weighing')">
      <AxleEditor
        :axles="axles"
        :places="places"
        :at="place.key"
        :trailer="trailer"
        :pulled="kind?.pulled ?? false"
        :coupler="metersOf(form.coupler_m)"
        :hitch="metersOf(form.hitch_m)"
        :solo="form.kind === 'motorcycle'"
        @pick="go"
        @move="rig.moveAxle"
        @dual="rig.toggleDual"
        @add="rig.addAxle"
        @remove="rig.removeAxle"
      />
      <nav ref="chips" aria-label="Places to read" class="mt-3 flex gap-1.5 overflow-x-auto pb-1">
        <button
          v-for="p in places"
          :key="p.key"
          type="button"
          class="press chip flex min-h-11 items-center gap-2 px-3"
          :aria-pressed="p.key === place.key"
          :aria-label="`${p.name}, ${p.read ? 'read' : 'not read'}${faulty(p.key) ? ': look again' : ''}`"
          @click="go(p.key)"
        >
          <span
            class="size-3 shrink-0 border-[1.5px] border-current"
            :class="p.read ? 'bg-current' : 'border-dashed'"
            aria-hidden="true"
          ></span>
          {{ p.name }}
          <span v-if="p.key !== place.key && faulty(p.key)" class="text-rust">: look again</span>
        </button>
      </nav>
      <div class="mt-5 lg:flex lg:gap-10">
        <div ref="panel" class="min-w-0 flex-1">
          <div class="flex flex-wrap items-baseline justify-between gap-x-6">
            <h2 class="text-xl">{{ place.name }}</h2>
            <p class="text-sm text-soft">{{ place.says }}</p>
          </div>
          <Pictures
            v-if="pictured"
            :key="place.key"
            v-model:held="pictures"
            class="mt-3"
            :rig="id"
            :rig-name="form.name"
            :of="{ what: pictured, place: place.key }"
            :label="pictured === 'label' ? 'Picture of the label' : 'Picture of the sidewall'"
            may-take
          />
          <PlaceParts v-for="part in place.parts" :key="`${place.key} ${part.under}`" :part="part" @typed="typed" />
          <p v-if="place.key === 'spare' && !form.spares.length" class="mt-3">
            It is the one that is forgotten, and the one that is wanted in a hurry.
          </p>
          <p class="mt-4 flex flex-wrap items-center gap-x-5 gap-y-2 text-sm">
            <template v-if="axleAt !== null">
              <button
                v-if="axles.length > 1 && form.axles[axleAt]?.tire_size"
                type="button"
                class="button"
                @click="rig.sameAllRound(axleAt)"
              >
                Same tires all round
              </button>
              <button v-if="axles.length < 9" type="button" class="link" @click="rig.addAxle(axleAt)">
                Another axle like it behind
              </button>
              <button v-if="axles.length > 1" type="button" class="link" @click="rig.removeAxle(axleAt)">
                Take this axle off
              </button>
            </template>
            <template v-if="place.key === 'spare'">
              <button
                v-if="form.spares.length < 3"
                type="button"
                :class="form.spares.length ? 'link' : 'button'"
                @click="rig.addSpare"
              >
                {{ form.spares.length ? 'Another spare' : 'Add a spare' }}
              </button>
              <button v-if="form.spares.length" type="button" class="link" @click="form.spares.pop()">
                Take {{ form.spares.length > 1 ? 'the last' : 'it' }} off
              </button>
            </template>
            <span v-if="removed">
              Axle {{ removed.at + 1 }} is off.
              <button type="button" class="link" @click="rig.undoRemove">Bring it back</button>
            </span>
          </p>
          <div class="mt-6 flex flex-wrap items-center gap-4 border-t border-hairline pt-5">
            <button
              v-if="next"
              type="button"
              class="button"
              :class="{ 'button-next': !work.answer.value?.enough }"
              @click="go(next.key)"
            >
              Next: {{ next.name[0]!.toLowerCase() + next.name.slice(1) }}
            </button>
            <button class="button" :class="{ 'button-next': work.answer.value?.enough }" :disabled="busy">
              {{ id ? 'Save the changes' : 'Add it, then weigh' }}
            </button>
            <button v-if="!id" type="button" class="button" :disabled="busy" @click="submit('targets')">
              Add it, no scale
            </button>
            <RouterLink :to="id ? { name: 'rig', params: { id } } : '/'" class="link text-sm" @click="throwAway"
              >Leave without saving</RouterLink
            >
            <Refusal :message="message" />
          </div>
        </div>
        <section v-if="work.answer.value?.missing.length" class="mt-7 lg:mt-0 lg:w-80">
          <h2>Not read yet, and what it would give</h2>
          <ul class="mt-2">
            <li v-for="m in work.answer.value.missing" :key="m.name" class="border-b border-hairline py-1.5 text-sm">
              <button type="button" class="link text-left" @click="go(m.place)">{{ m.name }}</button>
              <p class="text-soft">{{ m.gives }}</p>
            </li>
          </ul>
        </section>
      </div>
    </EntryForm>
  </main>
</template>
