<script setup lang="ts">
/** The air outside, and what it does to each target now and at the coming dawns. */
import { computed, reactive, ref, watch, type WritableComputedRef } from 'vue'
import { useFrame } from '@/rigs/frame'
import NextStep from '@/rigs/NextStep.vue'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import { entriesOf } from '@/shared/entries'
import EntryFields from '@/shared/EntryFields.vue'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import { provideRefusals } from '@/shared/refusals'
import { pairs, useSession } from '@/shared/session'
import { say, show, spokenDay, spokenDays, type Entry } from '@/shared/units'
import { usePlaces } from '@/shared/usePlaces'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import AirPages from './AirPages.vue'
import AxleAir from './AxleAir.vue'
import BringForecast from './BringForecast.vue'
import BringRecord from './BringRecord.vue'
import NoTarget from './NoTarget.vue'
import WeekTable from './WeekTable.vue'

const { id, sheet, whole } = useFrame()
const { session, may } = useSession()
const stored = computed(() => sheet.value.air.air)
const NUMBERS = ['outside_c', 'dawn_c', 'high_c', 'elevation_m', 'station_kpa'] as const
type Number_ = (typeof NUMBERS)[number]
/** What is typed by hand stays what was typed, whatever place is chosen beside it. */
const fromStored = () => ({
  place_key: stored.value.place_key,
  ...(Object.fromEntries(NUMBERS.map((n) => [n, stored.value.by_hand?.[n] ?? null])) as Record<Number_, Entry>),
  forecast: stored.value.by_hand?.forecast ?? [],
})
const form = reactive(fromStored())
const standing = (n: Number_): Entry => (form.place_key ? (work.answer.value?.air[n] ?? null) : form[n])
/** Typing goes on by hand, from what was typed before, or else from what the place said of now and its dawn. */
function typed(n: Number_, entry: Entry) {
  if (form.place_key) {
    const said = work.answer.value?.air
    if (!stored.value.by_hand && said)
      Object.assign(form, { outside_c: said.outside_c, dawn_c: said.dawn_c, elevation_m: said.elevation_m })
    form.place_key = ''
  }
  form[n] = entry
}
/** The same for the form's entries: what stands is read, what is typed goes on by hand. */
const byHand = reactive(
  Object.fromEntries(
    NUMBERS.map((n) => [n, computed({ get: () => standing(n), set: (entry) => typed(n, entry) })]),
  ) as Record<Number_, WritableComputedRef<Entry>>,
)
const { quantity } = entriesOf<typeof byHand>()
const USUAL = [
  quantity('outside_c', 'Outside now', 'temperature'),
  quantity('dawn_c', 'Coming dawn low', 'temperature'),
  quantity('elevation_m', 'Elevation', 'length', { whole: true }),
]
const SELDOM = [
  quantity('high_c', "The day's high", 'temperature'),
  quantity('station_kpa', 'Station pressure, absolute', 'pressure', {
    hint: 'As measured there, not reduced to sea level',
  }),
]
type Temperature = Schemas['Way']['temperature']
const way = reactive({ temperature: sheet.value.way.temperature, check_days: sheet.value.way.check_days })
const many = computed(() => sheet.value.train.length > 1 && sheet.value.rig.head === null)
watch(many, (now) => (whole.value = now), { immediate: true })
const { choices, refetch } = usePlaces()

const air = computed(() => {
  if (form.place_key) return { place_key: form.place_key }
  if (form.outside_c === null && form.elevation_m === null) return null
  return { ...form, place_key: '', offset_min: -new Date().getTimezoneOffset() }
})
const inputs = computed(() => air.value && { ...air.value, ...way, whole: many.value })
const work = useWork(inputs, (body) => answer(api.POST('/api/v1/work/air', { body: { rig: id.value, ...body } })))
/** What was typed is as it was, so going back to it is no new word on the air. */
const asTyped = computed(
  () =>
    !form.place_key &&
    NUMBERS.every((n) => (stored.value.by_hand?.[n] ?? null) === form[n]) &&
    JSON.stringify(stored.value.by_hand?.forecast ?? []) === JSON.stringify(form.forecast),
)
const seen = ref(stored.value.version)
function refill() {
  Object.assign(form, fromStored())
  seen.value = stored.value.version
}
const { save, busy, fields, message, newer } = useSave(async () => {
  const numbers = asTyped.value ? {} : air.value!
  const version = newer.value || seen.value
  const body = form.place_key ? { ...air.value!, version } : { place_key: '', ...numbers, version }
  await answer(api.PUT('/api/v1/rigs/{rig_id}/air', { params: { path: { rig_id: id.value } }, body }))
  await refreshRig(id.value)
  refill()
})
const seenWay = ref(sheet.value.way.version)
const keepWay = useSave(async () => {
  const body = { ...way, version: keepWay.newer.value || seenWay.value }
  const now = await answer(api.PUT('/api/v1/rigs/{rig_id}/policy', { params: { path: { rig_id: id.value } }, body }))
  seenWay.value = now.version
  await refreshRig(id.value)
})
const confirm = useSave(async () => {
  await answer(api.POST('/api/v1/rigs/{rig_id}/air/confirm', { params: { path: { rig_id: id.value } } }))
  await refreshRig(id.value)
  refill()
})
const wayDiffers = computed(
  () => way.temperature !== sheet.value.way.temperature || way.check_days !== sheet.value.way.check_days,
)
const no = (field: string) => fields.value[field] ?? work.fields.value[field]
provideRefusals(no)
/** What is refused of the whole, and belongs beside no field: a weather service that does not answer, say. */
const unplaced = computed(() => {
  const refused = [
    { message: message.value, fields: fields.value },
    { message: work.message.value, fields: work.fields.value },
    { message: keepWay.message.value, fields: {} },
    { message: confirm.message.value, fields: {} },
  ]
  return refused.find((t) => t.message && !Object.keys(t.fields).length)?.message
})
const same = computed(() => {
  const s = stored.value
  if (form.place_key) return s.source === 'service' && s.place_key === form.place_key
  return s.source === 'hand' && asTyped.value
})
const zoned = (iso: string | null, zone: string) =>
  iso
    ? new Date(iso).toLocaleString('en-US', {
        weekday: 'short',
        hour: 'numeric',
        minute: '2-digit',
        timeZone: zone,
      })
    : ''
const given = ref<HTMLElement>()
/** What opens is scrolled to, and its first entry has the focus. */
function toChoices() {
  given.value?.scrollIntoView({ block: 'center' })
  given.value?.querySelector<HTMLElement>('button, input')?.focus()
}
const foretelling = ref(false)
function foretold(days: Schemas['ForecastDay'][]) {
  foretelling.value = false
  form.forecast = days
}
const bringing = ref(false)
async function brought(key: string) {
  bringing.value = false
  await refetch()
  form.place_key = key
}
</script>

<template>
  <AirPages />
  <div class="flex flex-wrap items-start justify-between gap-4">
    <div>
      <h1>What the air does</h1>
      <p class="text-soft">
        The same air in a tire reads less in the cold and more up high. The floor stays the same number.
      </p>
    </div>
    <button
      v-if="may('air')"
      type="button"
      class="button"
      :class="{ 'button-next': inputs && !same }"
      :disabled="busy || !inputs || same"
      @click="save()"
    >
      {{ same ? 'In use for this rig' : 'Use this air' }}
    </button>
    <NextStep v-if="same" after="air" />
  </div>
  <Banner v-if="stored.old && !form.place_key" loud class="mt-4">
    This air was {{ say(stored.age_words!) }}. Until then it is shown, and nothing goes by it.
    <button v-if="may('air')" type="button" class="button ml-3" @click="confirm.save()">
      It is still {{ show('temperature', stored.outside_c!) }}
    </button>
  </Banner>
  <Banner v-if="stored.silent" class="mt-4"
    >The weather service does not answer. Enter outside temperature and elevation by hand.</Banner
  >

  <p v-if="work.answer.value?.axles.length" class="mt-3">
    <button type="button" class="link" @click="toChoices">
      {{ may('air') ? 'Change the air, or what is done about it' : 'The air it goes by' }}
    </button>
  </p>
  <NoTarget v-if="!sheet.targets" />
  <template v-if="work.answer.value">
    <AxleAir
      v-for="a in work.answer.value.axles"
      :key="`${a.rig}-${a.number}`"
      :axle="a"
      :name="many ? `${a.rig_name}, ${a.name.toLowerCase()}` : a.name"
      :class="{ stale: work.stale.value }"
    />
    <p v-if="work.answer.value.axles.length" class="mt-5 text-sm text-soft">
      Solid: here and now. Hatched: at the coldest dawn before the next check.
    </p>
  </template>
  <fieldset
    ref="given"
    :disabled="!may('air')"
    class="mt-6 grid min-w-0 grid-cols-2 gap-4 border-t border-hairline pt-4 lg:grid-cols-4"
  >
    <ChoiceField v-model="form.place_key" label="Place" :choices="choices" name="place_key" />
    <EntryFields v-model="byHand" :entries="USUAL" />
    <ChoiceField
      v-model="way.temperature"
      class="col-span-2"
      label="What to do about temperature"
      :choices="pairs<Temperature>(session?.temperatures)"
    />
    <ChoiceField
      v-model="way.check_days"
      label="Next check in"
      :choices="(session?.check_days ?? []).map((d) => ({ key: d, name: spokenDays(d) }))"
      name="check_days"
    />
    <p v-if="may('targets') && wayDiffers" class="self-end pb-2">
      <button type="button" class="link" @click="keepWay.save()">Keep this way for the rig</button>
    </p>
  </fieldset>
  <p class="mt-2 text-sm text-soft">
    <template v-if="form.place_key && work.answer.value">
      {{ work.answer.value.air.place }}; the next dawn is
      {{ zoned(work.answer.value.air.dawn_at, work.answer.value.air.time_zone) }} there.
      <span v-if="work.answer.value.air.stamp && !sheet.air.air.stamp" class="stamp ml-2">{{
        work.answer.value.air.stamp
      }}</span>
    </template>
    <template v-else-if="!form.place_key">By hand. A temperature may be typed with its unit: -4 C, 25 F.</template>
  </p>
  <template v-if="!form.place_key && may('air')">
    <BringForecast v-if="foretelling" class="mt-3" @use="foretold" @leave="foretelling = false" />
    <p v-else class="mt-2 flex flex-wrap gap-x-6 gap-y-1 text-sm">
      <span v-if="form.forecast.length" class="text-soft"
        >A forecast of {{ spokenDays(form.forecast.length)
        }}{{ stored.by_hand?.forecast_at && asTyped ? `, given ${spokenDay(stored.by_hand.forecast_at)}` : '' }}.</span
      >
      <button type="button" class="link" @click="foretelling = true">
        {{ form.forecast.length ? 'Another forecast' : 'Bring a forecast of the days ahead' }}
      </button>
      <button v-if="form.forecast.length" type="button" class="link" @click="form.forecast = []">Leave it out</button>
    </p>
  </template>
  <Opening label="More about the air" class="text-sm">
    <fieldset class="grid max-w-2xl min-w-0 grid-cols-2 gap-4" :disabled="!may('air')">
      <EntryFields v-model="byHand" :entries="SELDOM" />
    </fieldset>
    <template v-if="may('air')">
      <button v-if="!bringing" type="button" class="link mt-2" @click="bringing = true">
        Hourly temperatures of my own, from a CSV
      </button>
      <BringRecord v-else class="mt-3" @brought="brought" />
    </template>
  </Opening>
  <Refusal :message="unplaced" />

  <section
    v-if="work.answer.value?.axles.length && work.answer.value.air.week.length"
    class="mt-6 border-t border-hairline pt-4"
    :class="{ stale: work.stale.value }"
  >
    <h2>The days ahead</h2>
    <WeekTable class="mt-2" :answer="work.answer.value" :many="many" />
  </section>
</template>
