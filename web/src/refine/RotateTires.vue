<script setup lang="ts">
/** A rotation: a usual pattern, or one's own by dragging, pressing or choosing; what speaks against it, and the air it asks for. */
import { computed, reactive, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { say, today, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import { airShown, spoken } from './moves'

const props = defineProps<{ wear: Schemas['RigWearOut'] }>()
const emit = defineEmits<{ rotated: [work: Schemas['RotationWork']] }>()
const { id, carried, picked } = useFrame()
/** Where each tire goes, by the wheel where it stands. */
const goes = ref<Record<string, string>>({})
const codes = computed(() => props.wear.wheels.filter((w) => w.tire !== null).map((w) => w.code))
/** Which tire stands where: an answer that only came again leaves alone what is being planned. */
const stand = computed(() => props.wear.wheels.map((w) => `${w.code}:${w.tire}`).join(' '))
watch(stand, () => (goes.value = Object.fromEntries(codes.value.map((c) => [c, c]))), { immediate: true })
const moves = computed(() => Object.fromEntries(Object.entries(goes.value).filter(([from, to]) => from !== to)))
const moved = computed(() => Object.keys(moves.value).length)
/** Two places change what is planned for them. */
function swap(one: string, other: string) {
  const of = (place: string) => Object.keys(goes.value).find((tire) => goes.value[tire] === place)
  const [a, b] = [of(one), of(other)]
  if (a) goes.value[a] = other
  if (b) goes.value[b] = one
}
function send(tire: string, event: Event) {
  swap(goes.value[tire]!, (event.target as HTMLSelectElement).value)
}
const take = (pattern: Schemas['Pattern']) =>
  (goes.value = { ...Object.fromEntries(codes.value.map((c) => [c, c])), ...pattern.moves })
watch(carried, (now) => now && swap(now.from, now.to))
/** By pressing: the tire first, then the wheel where it goes. */
const held = ref<string | null>(null)
const pressing = ref(false)
watch(picked, (code) => {
  if (!pressing.value || !code) return
  if (held.value === null) held.value = code
  else {
    if (held.value !== code) swap(held.value, code)
    held.value = null
    picked.value = null
  }
})
const form = reactive({ moved_on: today(), odometer: null as Entry, looked: false })
const work = useWork(
  computed(() => (moved.value ? { rig: id.value, moves: moves.value } : null)),
  (body) => answer(api.POST('/api/v1/work/refine/rotation', { body })),
)
const said = computed(() => (moved.value ? work.answer.value : null))
const { save, busy, fields, message } = useSave(async () => {
  const done = await answer(
    api.POST('/api/v1/rigs/{rig_id}/moves', {
      params: { path: { rig_id: id.value } },
      body: { moves: moves.value, ...form },
    }),
  )
  form.looked = false
  await refreshRig(id.value)
  emit('rotated', done)
})
</script>

<template>
  <EntryForm :refused="fields" class="mt-2" @submit="save()">
    <ul v-if="wear.patterns.length">
      <li
        v-for="p in wear.patterns"
        :key="p.key"
        class="flex flex-wrap items-baseline gap-x-4 border-t border-hairline py-2"
      >
        <span class="font-semibold">{{ p.name }}</span>
        <span class="text-sm text-soft">{{ spoken(p.moves) }}</span>
        <button type="button" class="link" @click="take(p)">Take this one</button>
      </li>
    </ul>
    <p v-else class="text-soft">None of the usual patterns fits these tires as they are known.</p>
    <p class="mt-3 flex flex-wrap items-baseline gap-x-4 text-soft">
      Your own: drag a tire on the plan to another wheel, or say below where each goes.
      <button type="button" class="link" :aria-pressed="pressing" @click="((pressing = !pressing), (held = null))">
        {{ pressing ? 'Stop moving by pressing' : 'Move by pressing on the plan' }}
      </button>
    </p>
    <p v-if="pressing" class="font-semibold" aria-live="polite">
      {{ held ? `The tire at ${held}: press the wheel where it goes.` : 'Press the tire that is to move.' }}
    </p>
    <ul class="mt-2 grid max-w-3xl gap-x-6 sm:grid-cols-2">
      <li v-for="c in codes" :key="c" class="flex items-center gap-3 border-t border-hairline py-1.5">
        <label class="flex flex-1 items-center justify-between gap-3" :class="{ 'font-bold': goes[c] !== c }">
          <span>The tire at {{ c }} goes to</span>
          <select class="input w-24" :value="goes[c]" @change="send(c, $event)">
            <option v-for="to in codes" :key="to" :value="to">{{ to }}</option>
          </select>
        </label>
      </li>
    </ul>
    <div v-if="said" class="mt-4 max-w-3xl" :class="{ stale: work.stale.value }" aria-live="polite">
      <p v-for="(no, i) in said.refused" :key="`r${i}`" class="font-semibold text-rust">{{ say(no) }}</p>
      <template v-if="said.unsure.length">
        <p v-for="(look, i) in said.unsure" :key="`u${i}`">{{ say(look) }}</p>
        <label class="flex min-h-11 items-center gap-2 font-semibold">
          <input v-model="form.looked" type="checkbox" class="size-5 accent-teal" /> I looked: each may go there
        </label>
        <Refusal name="looked" />
      </template>
      <template v-if="said.air.length">
        <h3 class="mt-3 font-semibold">Its air</h3>
        <ul class="mt-1 flex flex-wrap gap-x-6 gap-y-1">
          <li v-for="job in said.air" :key="job.code">
            {{ job.code }}: <span class="text-soft">{{ airShown(job.from_kpa) }}</span> →
            <b class="text-xl">{{ airShown(job.to_kpa) }}</b>
          </li>
        </ul>
        <p class="text-sm text-soft">The target stays with the axle, the tire moves.</p>
      </template>
      <p v-else-if="!said.refused.length" class="mt-2 text-soft">Every tire goes to a wheel with the same target.</p>
    </div>
    <div class="mt-4 flex flex-wrap items-end gap-4">
      <TextField v-model="form.moved_on" class="w-44" label="Moved on" type="date" name="moved_on" />
      <QuantityField v-model="form.odometer" class="w-44" label="Odometer" kind="distance" name="odometer" />
      <button class="button button-next" :disabled="busy || !moved">Moved so</button>
      <button v-if="moved" type="button" class="link pb-2" @click="take({ moves: {} } as Schemas['Pattern'])">
        As they stand
      </button>
    </div>
    <Refusal :message="fields.moves || (message && !Object.keys(fields).length ? message : '')" />
  </EntryForm>
</template>
