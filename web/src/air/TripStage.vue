<script setup lang="ts">
/** A trip as one calculation: the fill now that holds everywhere, or where to stop and what to set there. */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import Chart from '@/shared/Chart.vue'
import type { ChartLine } from '@/shared/chartOption'
import ChoiceField from '@/shared/ChoiceField.vue'
import FileField from '@/shared/FileField.vue'
import KitNotes from '@/shared/KitNotes.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { figure, say, show, showWhole, unitOf, type Entry } from '@/shared/units'
import { usePlaces } from '@/shared/usePlaces'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import AirPages from './AirPages.vue'
import NoTarget from './NoTarget.vue'

interface Leg {
  name: string
  place_key: string
  on: string
  elevation_m: Entry
  dawn_c: Entry
  high_c: Entry
}
const { id, sheet, whole } = useFrame()
const { session, may } = useSession()
const many = computed(() => sheet.value.train.length > 1 && sheet.value.rig.head === null)
watch(many, (now) => (whole.value = now), { immediate: true })
const blank = (): Leg => ({ name: '', place_key: '', on: '', elevation_m: null, dawn_c: null, high_c: null })
const legs = ref<Leg[]>([blank()])
const typed = (of: Schemas['LegTypedOut']): Leg => ({ ...of, on: of.on ?? '' })
const trip = useQuery({
  queryKey: ['rig', id, 'trip'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/trip', { params: { path: { rig_id: id.value } } })),
})
const taken = ref(false)
const seen = ref('')
watch(
  trip.data,
  (now) => {
    if (taken.value || !now) return
    taken.value = true
    seen.value = now.version
    if (now.legs.length) legs.value = now.legs.map(typed)
  },
  { immediate: true },
)
const { choices } = usePlaces()
const begun = (l: Leg) => Boolean(l.place_key || l.elevation_m !== null || l.dawn_c !== null || l.name)
/** Legs that hold anything; `at` leads a refusal back to its own line. */
const used = computed(() => legs.value.map((leg, at) => ({ leg, at })).filter(({ leg }) => begun(leg)))
const body = computed(() => used.value.map(({ leg }) => ({ ...leg, on: leg.on || null })))
const work = useWork(
  computed(() => (body.value.length && sheet.value.targets ? { legs: body.value, whole: many.value } : null)),
  (now) => answer(api.POST('/api/v1/work/air/trip', { body: { rig: id.value, place_key: '', ...now } })),
)
const keep = useSave(async () => {
  const now = await answer(
    api.PUT('/api/v1/rigs/{rig_id}/trip', {
      params: { path: { rig_id: id.value } },
      body: { legs: body.value, version: keep.newer.value || seen.value },
    }),
  )
  seen.value = now.version
  await queries.invalidateQueries({ queryKey: ['rig', id, 'trip'] })
})
const kept = computed(
  () => JSON.stringify(trip.data.value?.legs.map(typed)) === JSON.stringify(used.value.map((u) => u.leg)),
)
const bring = useSave(async (file: Schemas['FileIn']) => {
  before.value = legs.value
  legs.value = (await answer(api.POST('/api/v1/work/air/trip-file', { body: file }))).map(typed)
})
const before = ref<Leg[] | null>(null)
function no(at: number, field: string) {
  const i = used.value.findIndex((u) => u.at === at)
  return i < 0 ? undefined : (work.fields.value[`legs.${i}.${field}`] ?? keep.fields.value[`legs.${i}.${field}`])
}
const list = ref<HTMLElement>()
async function more() {
  legs.value.push(blank())
  await nextTick()
  list.value?.querySelector<HTMLElement>('li:last-child button')?.focus()
}
function remove(at: number) {
  before.value = [...legs.value]
  legs.value.splice(at, 1)
  if (!legs.value.length) legs.value.push(blank())
}
const answered = computed(() => work.answer.value)
const nights = computed(() => ['Now', ...(answered.value?.legs.map((l) => l.name) ?? [])])
const name = (a: Schemas['AxleTrip']) => (many.value ? `${a.rig_name}, ${a.name.toLowerCase()}` : a.name)
const open = reactive<Record<string, boolean>>({})
function lines(a: Schemas['AxleTrip']): ChartLine[] {
  const at = (pick: (r: Schemas['LegReading']) => number | null) =>
    nights.value.map((_, i) => {
      const r = a.readings.find((x) => x.leg === i - 1)
      return r ? pick(r) : null
    })
  const highs = at((r) => r.high_kpa)
  return [
    {
      name: 'at dawn',
      values: [a.stretches[0]!.set_kpa, ...at((r) => r.dawn_kpa).slice(1)],
      dash: 'solid',
      symbol: 'circle',
      color: 'teal',
    },
    ...(highs.some((v) => v !== null)
      ? [
          {
            name: 'at the high',
            values: highs,
            dash: 'dotted',
            symbol: 'triangle',
            color: 'soft',
          } as ChartLine,
        ]
      : []),
  ]
}
const across = (a: Schemas['AxleTrip']) => [
  ...(a.floor_kpa === null ? [] : [{ name: 'floor', kpa: a.floor_kpa, toward: 'up' as const }]),
  ...(a.ceiling_kpa === null ? [] : [{ name: 'ceiling', kpa: a.ceiling_kpa, toward: 'down' as const }]),
]
/** What stands behind a night that a place filled. */
function resolved(at: number): string {
  const leg = answered.value?.legs[used.value.findIndex((u) => u.at === at)]
  if (!leg || !legs.value[at]?.place_key || work.stale.value) return ''
  const day = leg.date
    ? new Date(`${leg.date}T12:00`).toLocaleDateString('en-US', {
        weekday: 'short',
        day: 'numeric',
        month: 'short',
      })
    : ''
  const high = leg.high_c === null ? '' : `, high ${show('temperature', leg.high_c)}`
  return `${day}: ${showWhole('length', leg.elevation_m)}, dawn low ${show('temperature', leg.dawn_c)}${high}`
}
const elsewhere = computed(() =>
  Object.keys(work.fields.value).some((f) => f.startsWith('legs.')) ? '' : work.message.value,
)
</script>

<template>
  <AirPages />
  <div class="flex flex-wrap items-start justify-between gap-4">
    <div class="min-w-64 flex-1">
      <h1>The trip</h1>
      <p class="text-soft">
        A line for each night: where, and how cold its dawn is. One fill that stays inside the band everywhere, or where
        to stop.
      </p>
    </div>
    <button
      v-if="may('air')"
      type="button"
      class="button"
      :disabled="!body.length || kept || keep.busy.value"
      @click="keep.save()"
    >
      {{ kept && body.length ? 'Kept with this rig' : 'Keep the trip' }}
    </button>
  </div>
  <NoTarget v-if="!sheet.targets" />
  <template v-else>
    <Banner v-if="answered" class="mt-5" :class="{ stale: work.stale.value }" :loud="!answered.one_fill">
      <b class="text-lg text-ink">{{ say(answered.words) }}</b>
      <p v-if="answered.axles.length" class="mt-1 flex flex-wrap items-baseline gap-x-6">
        Set now, cold:
        <span v-for="a in answered.axles" :key="`${a.rig}-${a.number}`" class="whitespace-nowrap"
          >{{ name(a) }} <b class="text-2xl text-ink">{{ figure('pressure', a.stretches[0]!.set_kpa, 'up') }}</b></span
        >
        <span>{{ unitOf('pressure') }}</span>
      </p>
    </Banner>
    <fieldset :disabled="!may('air')" class="min-w-0">
      <ol ref="list" class="mt-5">
        <li
          v-for="(l, i) in legs"
          :key="i"
          class="grid grid-cols-2 items-start gap-x-3 gap-y-1 border-t border-hairline py-2.5 lg:grid-cols-[10rem_minmax(6rem,1fr)_8.5rem_6.5rem_6.5rem_6.5rem_auto]"
          :aria-label="`Night ${i + 1}`"
        >
          <ChoiceField
            v-model="l.place_key"
            :label="`Place, night ${i + 1}`"
            :choices="choices"
            :message="no(i, 'place_key')"
          />
          <TextField v-model="l.name" label="Name" :message="no(i, 'name')" />
          <TextField v-model="l.on" label="Morning of" type="date" :message="no(i, 'on')" />
          <QuantityField
            v-model="l.elevation_m"
            label="Elevation"
            kind="length"
            whole
            :message="no(i, 'elevation_m')"
          />
          <QuantityField v-model="l.dawn_c" label="Dawn low" kind="temperature" :message="no(i, 'dawn_c')" />
          <QuantityField v-model="l.high_c" label="Day's high" kind="temperature" :message="no(i, 'high_c')" />
          <p v-if="resolved(i)" class="col-span-full text-sm text-soft lg:order-last">{{ resolved(i) }}</p>
          <button type="button" class="link self-center pt-4" :aria-label="`Remove night ${i + 1}`" @click="remove(i)">
            Remove
          </button>
        </li>
      </ol>
      <p class="mt-2 flex flex-wrap gap-x-6 gap-y-1">
        <button v-if="legs.length < (session?.most_legs ?? 0)" type="button" class="link min-h-8" @click="more">
          One more night
        </button>
        <button v-if="before" type="button" class="link min-h-8" @click="((legs = before), (before = null))">
          Undo
        </button>
      </p>
    </fieldset>
    <Opening v-if="may('air')" label="From a CSV" class="text-sm">
      <FileField
        label="CSV of the nights"
        accept=".csv,text/csv"
        :busy="bring.busy.value"
        :message="bring.fields.value.content"
        @chosen="bring.save($event)"
      />
      <a href="/api/v1/trip-blank.csv" download>A file to start from</a>
    </Opening>
    <Refusal :message="elsewhere" />
    <Refusal
      v-if="!Object.keys(keep.fields.value).some((f) => f.startsWith('legs.'))"
      :message="[keep.message.value, keep.fields.value.legs].filter(Boolean).join(' ')"
    />
    <Refusal :message="bring.fields.value.content ? '' : bring.message.value" />

    <KitNotes class="mt-6" :rig="id" use="trip" />
    <template v-if="answered">
      <section
        v-for="a in answered.axles"
        :key="`${a.rig}-${a.number}`"
        class="mt-6 border-t border-hairline pt-4"
        :class="{ stale: work.stale.value }"
      >
        <div class="flex flex-wrap items-baseline justify-between gap-x-6">
          <h2>{{ name(a) }}</h2>
          <p class="text-soft">
            set now
            <span class="ml-2 text-4xl font-bold text-ink">{{
              figure('pressure', a.stretches[0]!.set_kpa, 'up')
            }}</span>
            {{ unitOf('pressure') }}
          </p>
        </div>
        <p class="font-semibold" :class="a.clash ? 'text-rust' : 'text-green'">{{ say(a.words) }}</p>
        <ul>
          <li v-for="(n, k) in a.notes" :key="k">{{ say(n) }}</li>
        </ul>
        <Chart
          v-if="open[`${a.rig}-${a.number}`] ?? answered.axles.length < 5"
          class="mt-2"
          :label="`${name(a)} along the trip`"
          along="Night"
          :places="nights"
          :lines="lines(a)"
          :across="across(a)"
          :height="220"
        />
        <button v-else type="button" class="link" @click="open[`${a.rig}-${a.number}`] = true">
          Show it along the trip
        </button>
      </section>
      <p v-if="answered.axles.length" class="mt-5 text-sm text-soft">
        Set cold, where the rig stands now. Dawns are judged; the day's highs warm a standing tire too, and are shown.
      </p>
    </template>
  </template>
</template>
