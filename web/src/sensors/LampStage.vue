<script setup lang="ts">
/** The lamp came on: one step after the other, from the light to its cause. The server says which is next, or what it gave before. */
import { useSessionStorage } from '@vueuse/core'
import { useQuery } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import { lampCameTo, onLamp, unsent } from '@/shared/outbox'
import TargetPages from '@/rigs/TargetPages.vue'
import { answer, api, refusedOf, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import Presses from '@/shared/Presses.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import { moment, figure, say, show, unitOf } from '@/shared/units'
import { useWork } from '@/shared/useWork'
import LampReadings from './LampReadings.vue'
import { isOld, stepBy, type Answers } from './guided'
import { useLampCarried, useSensors } from './queries'

const { id, sheet } = useFrame()
const { session, may } = useSession()
const CARRIED = { meta: { carried: true } }
const { data: told } = useSensors(id, CARRIED)
const fresh = (): Answers => ({
  light: null,
  which: '',
  seen: null,
  gauge: null,
  standing_h: 0,
  driven: 'highway',
  readings: [],
  left_out: [],
  aired: false,
  after: null,
})
/** Of one person: a phone changes hands. */
const mine = `lamp ${session.value?.person} ${id.value}`
const answers = useSessionStorage<Answers>(mine, fresh())
/** How it was before each step that was taken: the way back. */
const before = useSessionStorage<Answers[]>(`${mine} before`, [])
/** What the phone carries for times without a network: the way, and all that a reading can mean. */
const { data: carried, error: notCarried } = useLampCarried(id)
/** Answered by what the phone carries. */
const alone = ref(false)
const gauges = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')), ...CARRIED })
const usable = computed(() => {
  const inDrawer = gauges.data.value?.filter((g) => g.in_hand && !g.retired)
  return ((alone.value ? null : inDrawer) ?? carried.value?.gauges ?? []).map((g) => ({ key: g.id, name: g.label }))
})
const gauge = computed({
  get: () => usable.value.find((g) => g.key === answers.value.gauge)?.key ?? usable.value[0]?.key ?? null,
  set: (now) => (answers.value.gauge = now),
})
const body = computed(() => ({ ...answers.value, gauge: gauge.value }))
async function ask(now: Answers) {
  try {
    const said = await answer(
      api.POST('/api/v1/work/lamp', { body: { ...now, rig: id.value } as Schemas['WorkLampIn'] }),
    )
    alone.value = false
    return { ...said, said: null }
  } catch (error) {
    if (!refusedOf(error).unreachable || !carried.value) throw error
    alone.value = true
    return stepBy(carried.value, now)
  }
}
const work = useWork(
  computed(() => (carried.value === undefined && told.value === undefined ? null : body.value)),
  ask,
)
const step = computed(() => work.answer.value)
const wheels = computed(() => told.value?.axles.flatMap((a) => a.wheels) ?? carried.value?.wheels ?? [])
function go(more: Partial<Answers>) {
  before.value = [...before.value, { ...answers.value }]
  answers.value = { ...answers.value, ...more }
}
function back() {
  answers.value = before.value.at(-1) ?? fresh()
  before.value = before.value.slice(0, -1)
}
const again = () => ([answers.value, before.value] = [fresh(), []])
const choices = computed<{ name: string; more: Partial<Answers> }[]>(() => {
  const s = step.value
  if (!s) return []
  const of = <K extends string>(from: Record<K, string>, more: (key: K) => Partial<Answers>) =>
    (Object.entries(from) as [K, string][]).map(([key, name]) => ({ name, more: more(key) }))
  if (s.key === 'light') return of(s.lights as Record<'solid' | 'flashing', string>, (light) => ({ light }))
  if (s.key === 'look') return of(s.looked as Record<'nothing' | 'object' | 'flat', string>, (seen) => ({ seen }))
  if (s.key === 'roll') return of(s.afters as Record<'out' | 'on', string>, (after) => ({ after }))
  if (s.key === 'air') return [{ name: 'The air is in them', more: { aired: true } }]
  if (s.key === 'which')
    return [
      ...wheels.value.map((w) => ({ name: w.name, more: { which: w.code } })),
      { name: 'It names none', more: { which: '?' } },
    ]
  return []
})
const stood = computed(() => (step.value?.stood ?? []).map((s) => ({ key: s.hours, name: s.name })))
const kept = ref(false)
const waits = computed(() => unsent.value.some((u) => u.lamp?.rig === id.value))
onScopeDispose(onLamp((now) => queries.setQueryData(['rig', now.rig, 'sensors'], now)))
async function keep() {
  const came = { ...body.value, at: new Date().toISOString(), said: step.value?.said ?? null }
  again()
  kept.value = true
  await lampCameTo(id.value, sheet.value.rig.name, came as Schemas['LampKeptIn'])
}
const elsewhere = computed(() =>
  !told.value && !carried.value && notCarried.value
    ? `${refusedOf(notCarried.value).message} The guide is carried for a rig whose sensors were opened on this phone.`
    : work.fields.value.air || work.fields.value.gauge || work.message.value,
)
</script>

<template>
  <TargetPages />
  <h1>The lamp came on</h1>
  <p v-if="kept && !before.length" class="mt-1 font-semibold" :class="waits ? 'text-soft' : 'text-green'">
    {{ waits ? 'Kept on this phone; it goes to the rig when the network is back.' : 'Kept with this rig.' }}
  </p>
  <template v-if="alone && carried">
    <p v-if="isOld(carried)" class="mt-1 font-medium text-rust">
      Without a network, by the air of {{ moment(carried.as_of) }}. {{ say(carried.old_air) }}
    </p>
    <p v-else class="mt-1 text-sm text-soft">
      Without a network: by the targets and the air of {{ moment(carried.as_of) }},
      {{ show('temperature', carried.outside_c!) }}.
    </p>
  </template>
  <template v-if="step">
    <section aria-live="polite" :class="{ stale: work.stale.value }">
      <p v-if="step.outcome" class="mt-3 text-3xl font-bold" :class="step.outcome === 'stop' ? 'text-rust' : ''">
        {{ step.outcome_name }}
      </p>
      <p class="mt-2 max-w-3xl text-xl">{{ say(step.words) }}</p>
      <p v-for="(n, i) in step.notes" :key="i" class="mt-1 max-w-3xl font-medium text-rust">{{ say(n) }}</p>
    </section>
    <div v-if="step.key === 'air'" class="mt-3 grid max-w-2xl grid-cols-2 gap-3 sm:grid-cols-3">
      <p v-for="w in step.wheels.filter((x) => x.word === 'add')" :key="w.code" class="border-t border-hairline pt-2">
        {{ w.name }}
        <b class="block text-4xl">{{ w.shows_kpa === null ? '?' : figure('pressure', w.shows_kpa, 'up') }}</b>
        <span class="text-sm text-soft">{{ unitOf('pressure') }}, until the gauge shows it</span>
      </p>
    </div>
    <div v-if="step.key === 'read'" class="mt-3 max-w-3xl">
      <div class="flex flex-wrap items-end gap-x-6 gap-y-3">
        <ChoiceField v-model="gauge" class="w-52" label="Gauge in hand" :choices="usable" name="gauge" />
        <div class="flex flex-wrap gap-1.5" role="group" aria-label="How it stood">
          <Presses v-model="answers.standing_h" look="chip min-h-11 px-3" :choices="stood" />
        </div>
      </div>
      <LampReadings
        class="mt-3"
        :wheels="wheels"
        :readings="answers.readings"
        :left-out="answers.left_out"
        :judged="step.wheels"
        :refused="work.fields.value"
        @done="(readings, left_out) => go({ readings, left_out })"
      />
    </div>
    <div class="mt-4 flex flex-wrap gap-2">
      <button v-for="c in choices" :key="c.name" type="button" class="button min-h-14 px-5 text-lg" @click="go(c.more)">
        {{ c.name }}
      </button>
    </div>
    <div v-if="step.outcome" class="mt-4 flex flex-wrap items-center gap-x-6 gap-y-2">
      <button v-if="may('rounds')" type="button" class="button button-next" @click="keep()">
        Keep it with this rig
      </button>
      <RouterLink v-if="step.outcome !== 'stop'" :to="{ name: 'rounds', params: { id } }">Open a round</RouterLink>
    </div>
    <p class="mt-5 flex flex-wrap gap-x-6">
      <button v-if="before.length" type="button" class="link min-h-11" @click="back">Back a step</button>
      <button v-if="before.length" type="button" class="link min-h-11" @click="again">From the beginning</button>
    </p>
  </template>
  <Refusal :message="elsewhere" />
  <section v-if="told?.lamp_cases.length" class="mt-8 max-w-3xl border-t border-hairline pt-3">
    <h2>Times before</h2>
    <ul>
      <li v-for="c in told.lamp_cases" :key="c.uuid" class="border-t border-hairline py-1">
        <b>{{ c.outcome }}</b> {{ say(c.words) }} <span class="text-soft">{{ moment(c.at) }}, {{ c.by }}</span>
      </li>
    </ul>
  </section>
</template>
