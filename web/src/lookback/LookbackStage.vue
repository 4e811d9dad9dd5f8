<script setup lang="ts">
/** Every tire through its services, what it loses, and each sealed round taken apart: leak or weather. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api } from '@/shared/api/client'
import Chart from '@/shared/Chart.vue'
import type { ChartLine } from '@/shared/chartOption'
import Segments from '@/shared/Segments.vue'
import { say, show, spokenDay } from '@/shared/units'
import LossTable from './LossTable.vue'
import LookPages from './LookPages.vue'
import RoundList from './RoundList.vue'

const { id, sheet, picked } = useFrame()
const { data } = useQuery({
  queryKey: ['rig', id, 'lookback'],
  queryFn: () => answer(api.GET('/api/v1/lookback/{rig_id}', { params: { path: { rig_id: id.value } } })),
})
/** What was read before, out of files: it has its own question. */
const { data: brought } = useQuery({
  queryKey: ['rig', id, 'earlier'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/earlier', { params: { path: { rig_id: id.value } } })),
})
const tires = computed(() => data.value?.tires ?? [])
const named = computed(() => tires.value.filter((t) => t.named))
/** The tire on the chart: the one picked on the plan, else the one that leaks, else the first. */
const tire = computed(() => tires.value.find((t) => t.code === picked.value) ?? named.value[0] ?? tires.value[0])
watch(
  tire,
  (now) => {
    if (now && picked.value !== now.code) picked.value = now.code
  },
  { immediate: true },
)

const SPANS = [
  { key: 90, name: '3 months' },
  { key: 9999, name: 'All' },
]
const span = ref(9999)
const values = ref<'level' | 'raw'>('level')
const AS = [
  { key: 'level' as const, name: 'Same air' },
  { key: 'raw' as const, name: 'As the gauge showed' },
]
const dayOf = (day: number) => new Date(new Date(data.value!.start!).getTime() + day * 86_400_000)
const shortDay = (day: number) => spokenDay(dayOf(day).toISOString())
/** Day and air of a round. */
const rounds = computed(() => {
  const { round, day, c } = data.value?.air ?? { round: [], day: [], c: [] }
  return new Map(round.map((r, i) => [r, { day: day[i]!, c: c[i]! }]))
})
const days = computed(() => tire.value?.round.map((r) => rounds.value.get(r)!.day) ?? [])
interface Place {
  day: number
  /** Which of the tire's rounds, of the numbers off its display, or of what was read before and brought in. */
  round: number | null
  seen: number | null
  before: number | null
}
const dayOn = (at: string) => (Date.parse(at) - Date.parse(data.value!.start!)) / 86_400_000
const earlier = computed(
  () =>
    brought.value?.wheels.find((w) => w.code === tire.value?.code) ?? { at: [], raw: [], level: [], own: [], count: 0 },
)
/** What stands along the chart: rounds, what was read before, and at the same air what a display showed in between. */
const places = computed(() => {
  const t = tire.value
  if (!t) return []
  const none = { round: null, seen: null, before: null }
  const read = days.value.map((day, round): Place => ({ ...none, day, round }))
  const shown = t.seen_at.map((at, seen): Place => ({ ...none, day: dayOn(at), seen }))
  const before = earlier.value.at
    .map((at, i): Place => ({ ...none, day: dayOn(at), before: i }))
    .filter((p) => values.value === 'raw' || earlier.value.level[p.before!] !== null)
  return [...before, ...read, ...(values.value === 'level' ? shown : [])].sort((a, b) => a.day - b.day)
})
const from = computed(() => Math.max(places.value[0]?.day ?? 0, (places.value.at(-1)?.day ?? 0) - span.value))
const kept = computed(() => places.value.filter((p) => p.day >= from.value))
const ofRound = <T,>(pick: (round: number) => T) => kept.value.map(({ round }) => (round === null ? null : pick(round)))
const ofSeen = <T,>(pick: (seen: number) => T) => kept.value.map(({ seen }) => (seen === null ? null : pick(seen)))
const ofBefore = <T,>(pick: (before: number) => T) =>
  kept.value.map(({ before }) => (before === null ? null : pick(before)))
/** The middle of the other road wheels, round by round: what weather and gauges did to all. */
const middle = computed(() => {
  const others = tires.value.filter((t) => t.code !== tire.value?.code && !t.spare)
  return ofRound((i) => {
    const round = tire.value!.round[i]
    const read = others.flatMap((t) => {
      const at = t.round.indexOf(round!)
      return at < 0 ? [] : [(values.value === 'raw' ? t.raw : t.level)[at]!]
    })
    if (read.length < 2) return null
    read.sort((a, b) => a - b)
    return read[Math.floor(read.length / 2)]!
  })
})
const lines = computed<ChartLine[]>(() => {
  const t = tire.value
  if (!t) return []
  const chartLines: ChartLine[] = [
    {
      name: `${t.name}, found`,
      values: ofRound((i) => (values.value === 'raw' ? t.raw : t.level)[i]!),
      color: 'teal',
      symbol: 'circle',
      joined: true,
    },
  ]
  const left = ofRound((i) => t.left[i]!)
  if (values.value === 'level' && left.some((v) => v !== null))
    chartLines.push({
      name: 'left, once air was set',
      values: left,
      color: 'buoy',
      symbol: 'triangle',
      points: true,
    })
  if (middle.value.some((v) => v !== null))
    chartLines.push({
      name: 'middle of the others',
      values: middle.value,
      color: 'soft',
      dash: 'dashed',
      symbol: 'rect',
      joined: middle.value.every((v, i) => v !== null || kept.value[i]!.round === null),
    })
  const before = (own: boolean) =>
    ofBefore((i) =>
      earlier.value.own[i] === own ? (values.value === 'raw' ? earlier.value.raw : earlier.value.level)[i]! : null,
    )
  for (const [own, name] of [
    [true, 'earlier readings'],
    [false, 'of the tire before it'],
  ] as const)
    if (before(own).some((v) => v !== null))
      chartLines.push({
        name,
        values: before(own),
        color: 'soft',
        symbol: own ? 'emptyCircle' : 'emptyDiamond',
        points: true,
      })
  if (kept.value.some((p) => p.seen !== null))
    chartLines.push({
      name: 'off a display',
      values: ofSeen((i) => t.seen_level[i]!),
      within: ofSeen((i) => t.seen_within[i]!),
      color: 'plum',
      symbol: 'diamond',
      points: true,
    })
  return chartLines
})
/** The air of each round shown: what the weather did beside the pressures. */
const air = computed(() => ofRound((i) => rounds.value.get(tire.value!.round[i]!)!.c))
/** Where the tire was before it came here. */
const moved = computed(() => {
  const at = tire.value?.elsewhere.findLastIndex(Boolean) ?? -1
  return at < 0 ? '' : `This tire was at ${tire.value!.elsewhere[at]} until ${shortDay(days.value[at]!)}.`
})
/** What of those read before is not shown, or cannot be brought to one air. */
const notShown = computed(() => {
  const { count, at, level } = earlier.value
  const bare = level.filter((v) => v === null).length
  return [
    count > at.length && `${at.length} of ${count.toLocaleString('en-US')} earlier readings are shown, evenly.`,
    values.value === 'level' && bare && `${bare} earlier readings lack their air: they stand as the gauge showed.`,
  ]
    .filter(Boolean)
    .join(' ')
})
const marks = computed(() =>
  (data.value?.marks ?? [])
    .filter((m) => m.day >= from.value)
    .map((m) => ({
      at: kept.value.findIndex((p) => p.day >= m.day - 0.5),
      words: m.what === 'gauge' ? 'gauge' : m.what === 'tire' ? 'tire' : 'put right',
    }))
    .filter((m) => m.at >= 0),
)
const across = computed(() =>
  values.value === 'level' && tire.value?.target != null
    ? [{ name: 'target', kpa: tire.value.target, toward: 'up' as const }]
    : [],
)
const record = computed(() => data.value?.record)
</script>

<template>
  <LookPages />
  <section v-if="data && !tires.length" class="max-w-md">
    <h1>Nothing sealed yet</h1>
    <p class="mt-1 text-soft">A round is history once it is sealed; two of them can be compared.</p>
    <RouterLink :to="{ name: 'rounds', params: { id } }" class="button button-next mt-4">{{
      sheet.open_round ? 'Go on with the round' : 'Open a round'
    }}</RouterLink>
    <p class="mt-4">
      <RouterLink :to="{ name: 'earlier', query: { rig: id } }">Bring in earlier readings</RouterLink>
    </p>
  </section>
  <template v-else-if="data && tire">
    <div class="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
      <div class="min-w-60 flex-1">
        <h1 aria-live="polite">
          {{ tire.name }} <span class="font-normal text-soft">· {{ tire.code }}</span>
        </h1>
        <p class="text-lg" :class="tire.named ? 'font-bold text-rust' : ''">{{ say(tire.words) }}</p>
        <p v-if="tire.display" :class="tire.apart ? 'font-medium text-rust' : 'text-soft'">{{ say(tire.display) }}</p>
        <p v-if="tire.low_on || tire.low_soonest" class="text-soft">
          At its limit<template v-if="tire.low_on"> about {{ spokenDay(tire.low_on) }}</template
          ><template v-if="tire.low_soonest">, at the earliest {{ spokenDay(tire.low_soonest) }}</template
          >, if nobody adds air.
        </p>
      </div>
      <p class="flex flex-wrap items-center gap-4">
        <RouterLink :to="{ name: 'earlier', query: { rig: id } }">Earlier readings</RouterLink>
        <a :href="`/api/v1/lookback/${id}/rounds.csv`" class="button" download>Export as CSV</a>
      </p>
    </div>
    <p v-for="t in named.filter((n) => n.code !== tire!.code)" :key="t.code" class="mt-2">
      <button type="button" class="link font-bold text-rust" @click="picked = t.code">
        {{ t.name }}: {{ say(t.words) }}
      </button>
    </p>

    <div class="mt-3 flex flex-wrap items-end gap-x-6 gap-y-2">
      <Segments v-model="values" label="Pressures" :choices="AS" />
      <Segments v-model="span" label="Reaching back" :choices="SPANS" />
    </div>
    <Chart
      class="mt-3"
      :label="`${tire.name} through time`"
      :places="kept.map((p) => shortDay(p.day))"
      :days="kept.map((p) => dayOf(p.day).toISOString())"
      along="Read on"
      :lines="lines"
      :across="across"
      :marks="marks"
      :air="air"
    />
    <p class="text-sm text-soft">
      {{
        values === 'level'
          ? 'Brought to 20 °C and sea level, so that months compare.'
          : 'As the gauge showed it, in the air of the day.'
      }}
      {{ moved }}
      {{ notShown }}
      <span v-for="m in data.marks" :key="`${m.day}${m.words}`" class="mr-2"
        >{{ m.words }}, {{ shortDay(m.day) }}.</span
      >
    </p>

    <section class="mt-6">
      <h2>What each tire loses</h2>
      <LossTable v-model="picked" :tires="tires" :shown="tire.code" />
      <p v-if="data.next_check_on" class="mt-2">
        <b v-if="data.next_check_over" class="text-rust">The check was due by {{ spokenDay(data.next_check_on) }}</b>
        <b v-else>Next check by {{ spokenDay(data.next_check_on) }}</b
        ><span class="text-soft">. {{ data.next_check_words }}.</span>
      </p>
      <p v-if="record?.measured" class="text-soft">
        {{ record.measured }} predictions were measured by the next round: {{ show('share', record.inside!) }} lay
        inside their range, half within {{ show('pressure', record.typical_kpa!) }}.
      </p>
    </section>

    <RoundList :of="data" />
  </template>
</template>
