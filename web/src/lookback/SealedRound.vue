<script setup lang="ts">
/** A sealed round: what stood then, what was put right since, what is open, and leak or weather. */
import { useQuery } from '@tanstack/vue-query'
import { v4 as uuid } from 'uuid'
import { computed, reactive, toRef } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import Answer from '@/shared/Answer.vue'
import { answer, api, refusedOf, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import Nowhere from '@/shared/Nowhere.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { figure, say, show, showWhole, spokenDay, unitOf, type Entry, toward } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import LookPages from './LookPages.vue'
import Splits from './Splits.vue'

const props = defineProps<{ round: number }>()
const { id } = useFrame()
const { may } = useSession()
const round = toRef(props, 'round')
const { data, error } = useQuery({
  queryKey: ['rig', id, 'sealed', round],
  queryFn: () =>
    answer(api.GET('/api/v1/rounds/{round_id}/sealed', { params: { path: { round_id: round.value } } })),
})
const when = (iso: string, zone: string) =>
  new Date(iso).toLocaleString('en-US', { dateStyle: 'long', timeStyle: 'short', timeZone: zone })
const wheels = computed(() => data.value?.now ?? [])
const read = computed(() => wheels.value.filter((w) => w.before))
/** As it was sealed, of a wheel that was put right since. */
const sealedAs = (code: string) => data.value?.wheels.find((w) => w.code === code)
const was = (code: string, kind: 'before' | 'after') => {
  const then = sealedAs(code)?.[kind]
  const now = wheels.value.find((w) => w.code === code)?.[kind]
  return then && then.uuid !== now?.uuid ? then : null
}
const late = computed(() => (data.value?.late ?? []).filter((e) => e.settled !== 'taken'))
const { save: settle, message: lateMessage } = useSave(async (entry: string, take: boolean) => {
  const now = await answer(
    api.PUT('/api/v1/rounds/{round_id}/late/{uuid}', {
      params: { path: { round_id: round.value, uuid: entry } },
      body: { take, reason: '' },
    }),
  )
  queries.setQueryData(['rig', id.value, 'sealed', round.value], now)
  await refreshRig(id.value)
})
async function settleAll() {
  for (const e of late.value) await settle(e.uuid, true)
}
const standing = (w: Schemas['RoundWheelOut']) => w.after_answer ?? w.answer

type Seen = Required<Schemas['SeenIn']>
const gauges = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')) })
const form = reactive({
  open: false,
  what: 'reading' as 'reading' | 'seen' | 'air',
  leak: null as Seen['leak'] | null,
  cap: null as Seen['cap'] | null,
  valve: null as Seen['valve'] | null,
  damage: '',
  inspected: '',
  note: '',
  outside: null as Entry,
  elevation: null as Entry,
  stood: '',
  at: '',
  wheel: '',
  gauge: null as number | null,
  after: 'found' as 'found' | 'left',
  pressure: null as Entry,
  reason: '',
  uuid: '',
})
function begin() {
  Object.assign(form, {
    open: true,
    what: 'reading',
    leak: null,
    cap: null,
    valve: null,
    damage: '',
    inspected: '',
    note: '',
    outside: null,
    elevation: null,
    stood: '',
    at: '',
    wheel: read.value[0]?.code ?? '',
    gauge: null,
    after: 'found',
    pressure: null,
    reason: '',
    uuid: uuid(),
  })
}
const amended = computed(() => wheels.value.find((w) => w.code === form.wheel))
const AS_IT_WAS = { key: null, name: 'As it was' }
const LEAK = [
  AS_IT_WAS,
  { key: 'none' as const, name: 'None' },
  { key: 'heard' as const, name: 'Heard' },
  { key: 'bubbled' as const, name: 'Bubbled' },
]
const CAP = [
  AS_IT_WAS,
  { key: 'on' as const, name: 'On' },
  { key: 'missing' as const, name: 'Missing' },
  { key: 'fitted' as const, name: 'Fitted' },
]
const VALVE = [
  AS_IT_WAS,
  { key: 'good' as const, name: 'Good' },
  { key: 'damaged' as const, name: 'Damaged' },
]
/** The gauge of the reading as it stands: of the last that put it right, else its own. */
const readWith = computed(() => {
  const after = form.after === 'left'
  const since = data.value?.amendments.filter((a) => a.wheel === form.wheel && a.after === after).at(-1)
  return since?.gauge ?? (after ? amended.value?.after : amended.value?.before)?.gauge ?? ''
})
const others = computed(() =>
  (gauges.data.value ?? []).filter((g) => g.in_hand && !g.retired && g.label !== readWith.value),
)
const shown = computed(() => gauges.data.value?.find((g) => g.id === form.gauge)?.label ?? readWith.value)
const { save, busy, fields, message } = useSave(async () => {
  const { wheel, after, gauge, pressure, reason, what } = form
  const seen = {
    leak: form.leak,
    cap: form.cap,
    valve: form.valve,
    damage: form.damage || null,
    inspected: form.inspected || null,
    note: form.note || null,
  }
  const air = {
    outside_c: form.outside,
    elevation_m: form.elevation,
    standing_h: form.stood || null,
    read_at: form.at ? new Date(form.at).toISOString() : null,
  }
  const body = {
    uuid: form.uuid,
    reason,
    ...(what === 'air'
      ? { air }
      : what === 'seen'
        ? { wheel, seen }
        : { wheel, after: after === 'left', gauge, pressure }),
  }
  const now = await answer(
    api.POST('/api/v1/rounds/{round_id}/amendments', {
      params: { path: { round_id: round.value } },
      body: body as Schemas['AmendIn'],
    }),
  )
  queries.setQueryData(['rig', id.value, 'sealed', round.value], now)
  form.open = false
  await refreshRig(id.value)
})
</script>

<template>
  <LookPages />
  <Nowhere v-if="error && refusedOf(error).status === 404" />
  <p v-else-if="error" role="alert">{{ refusedOf(error).message }}</p>
  <template v-else-if="data">
    <div class="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
      <div class="min-w-60 flex-1">
        <h1>Round of {{ when(data.opened_at, data.time_zone) }}</h1>
        <p class="text-soft">
          Sealed by {{ data.sealed_by }}, gauge {{ data.gauge_label }}; {{ data.place || 'by hand' }}
          {{ show('temperature', data.outside_c) }}, {{ showWhole('length', data.elevation_m) }}, stood
          {{ data.standing_h }} h{{ data.cold ? '' : ', still warm: estimates'
          }}{{ data.odometer_km ? `, ${show('distance', data.odometer_km)}` : '' }}
        </p>
      </div>
      <div class="flex gap-2.5">
        <a class="button" :href="`/api/v1/rounds/${round}/round.pdf`" download>PDF</a>
        <a class="button" :href="`/api/v1/rounds/${round}/round.csv`" download>CSV</a>
      </div>
    </div>
    <p class="mt-3 text-xl font-bold first-letter:uppercase">{{ data.summary }}</p>
    <p v-for="(w, i) in data.split" :key="i">{{ say(w) }}</p>
    <p v-if="data.next_check_on" class="mt-1">
      <b>Next check by {{ spokenDay(data.next_check_on) }}</b
      ><span class="text-soft">: {{ data.next_check_words.toLowerCase() }}.</span>
    </p>
    <ul v-if="data.open_matters.length || data.findings.length" class="mt-3 border-l-4 border-rust pl-3">
      <li v-for="m in data.open_matters" :key="m" class="font-medium">{{ m }}</li>
      <li v-for="f in data.findings" :key="f" class="font-medium">{{ f }}</li>
    </ul>
    <p v-if="data.unread_reason" class="mt-1 text-sm">Not read, because: {{ data.unread_reason }}</p>

    <section v-if="late.length" class="mt-4 border-l-4 border-rust pl-4">
      <h2>Came late</h2>
      <p class="max-w-3xl text-soft">
        These came when the round was sealed already. They count for nothing until they are taken in.
      </p>
      <p v-for="e in late" :key="e.uuid" class="flex flex-wrap gap-x-3">
        <b
          >{{ e.name }} <span class="text-soft">{{ e.wheel }}</span></b
        >
        <span v-if="!e.note"
          >{{ e.after ? 'left' : 'found' }} <b>{{ e.typed }}</b> on {{ e.gauge }}</span
        >
        <span v-for="(w, i) in e.words" :key="i">{{ say(w) }}</span>
        <span class="text-soft"
          >{{ e.by }}, {{ e.read_at ? when(e.read_at, data.time_zone) : spokenDay(e.received_at)
          }}{{ e.settled === 'left' ? `; left out by ${e.settled_by}` : '' }}</span
        >
        <template v-if="may('rounds')">
          <button type="button" class="link" @click="settle(e.uuid, true)">Take it in</button>
          <button v-if="!e.settled" type="button" class="link" @click="settle(e.uuid, false)">
            Leave it out
          </button>
        </template>
      </p>
      <button
        v-if="may('rounds') && late.length > 1"
        type="button"
        class="link mt-1 font-semibold"
        @click="settleAll"
      >
        Take all of them in
      </button>
      <Refusal :message="lateMessage" />
    </section>
    <div class="mt-4 overflow-x-auto">
      <table class="plain">
        <thead>
          <tr>
            <th>Wheel</th>
            <th class="figure">Target here, {{ unitOf('pressure') }}</th>
            <th class="figure">Gauge</th>
            <th class="figure">True</th>
            <th class="figure">Left</th>
            <th>Answer</th>
            <th class="hidden sm:table-cell">By</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in wheels" :key="w.code">
            <td class="min-w-24">
              {{ w.name }} <span class="text-soft">{{ w.code }}</span>
              <span v-for="(s, i) in w.seen.words" :key="i" class="block text-sm">{{ say(s) }}</span>
              <span v-if="w.seen.note" class="block text-sm text-soft">{{ w.seen.note }}</span>
            </td>
            <td class="figure text-soft">
              {{
                w.here_kpa === null ? '–' : figure('pressure', w.here_kpa, toward(w.here_kpa, w.ceiling_kpa))
              }}
            </td>
            <td class="figure" :title="w.before ? `typed ${w.before.typed}` : ''">
              <s v-if="was(w.code, 'before')" class="text-soft">{{
                figure('pressure', was(w.code, 'before')!.raw_kpa)
              }}</s>
              {{ w.before ? figure('pressure', w.before.raw_kpa) : '–' }}
            </td>
            <td class="figure font-bold">
              {{ w.before ? figure('pressure', w.before.corrected_kpa) : '–' }}
            </td>
            <td class="figure">
              <s v-if="was(w.code, 'after')" class="text-soft">{{
                figure('pressure', was(w.code, 'after')!.corrected_kpa)
              }}</s>
              {{ w.after ? figure('pressure', w.after.corrected_kpa) : '–' }}
            </td>
            <td><Answer :answer="standing(w)" :target="w.here_kpa" /></td>
            <td class="hidden text-sm text-soft sm:table-cell">{{ w.before?.by }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <Opening v-if="data.parts.length" label="Leak or weather, tire by tire" class="mt-3"
      ><Splits :parts="data.parts"
    /></Opening>
    <section v-if="data.amendments.length" class="mt-4">
      <h2>Put right since</h2>
      <p v-for="(a, i) in data.amendments" :key="i">
        <template v-if="a.kind === 'reading'">
          {{ a.name }}, {{ a.after ? 'left' : 'found' }}: <s>{{ a.was }}</s> <b>{{ a.typed }}</b> on
          {{ a.gauge }}, true {{ show('pressure', a.corrected_kpa!) }}.
        </template>
        <template v-else>
          {{ a.name || 'The round' }}: <b>{{ a.words.map((w) => say(w)).join(', ') }}</b>.
        </template>
        <span class="text-soft">{{ a.reason }} ({{ a.by }}, {{ spokenDay(a.at) }})</span>
      </p>
    </section>
    <p class="mt-4">
      Signed <b>{{ data.signed || '–' }}</b>
      <span v-for="s in data.stamps" :key="s" class="stamp ml-4">{{ s }}</span>
    </p>

    <template v-if="may('rounds') && read.length">
      <button v-if="!form.open" type="button" class="link mt-3" @click="begin">Put something right</button>
      <form v-else class="mt-3 border-l-4 border-teal pl-4" novalidate @submit.prevent="save()">
        <p class="text-soft">
          What was entered stays as it was; what is right stands beside it, with the reason.
        </p>
        <div class="mt-2 grid gap-4 sm:grid-cols-3 lg:grid-cols-5">
          <ChoiceField
            v-model="form.what"
            label="What"
            :choices="[
              { key: 'reading' as const, name: 'A reading' },
              { key: 'seen' as const, name: 'What was seen' },
              { key: 'air' as const, name: 'Air and time' },
            ]"
          />
          <ChoiceField
            v-if="form.what !== 'air'"
            v-model="form.wheel"
            label="Wheel"
            :choices="wheels.map((w) => ({ key: w.code, name: `${w.name} · ${w.code}` }))"
            :message="fields.wheel"
          />
          <template v-if="form.what === 'seen'">
            <ChoiceField v-model="form.leak" label="Leak" :choices="LEAK" />
            <ChoiceField v-model="form.cap" label="Cap" :choices="CAP" />
            <ChoiceField v-model="form.valve" label="Valve" :choices="VALVE" />
            <TextField v-model="form.damage" label="Damage" :message="fields['seen.damage']" />
            <TextField v-model="form.inspected" label="An inspection found" />
            <TextField v-model="form.note" label="Note" :message="fields['seen.note']" />
          </template>
          <template v-if="form.what === 'air'">
            <QuantityField
              v-model="form.outside"
              label="Outside"
              kind="temperature"
              :message="fields['air.outside_c'] ?? fields.air"
            />
            <QuantityField
              v-model="form.elevation"
              label="Elevation"
              kind="length"
              whole
              :message="fields['air.elevation_m']"
            />
            <TextField v-model="form.stood" label="Stood, hours" :message="fields['air.standing_h']" />
            <TextField
              v-model="form.at"
              type="datetime-local"
              label="Read at"
              :message="fields['air.read_at']"
            />
          </template>
          <ChoiceField
            v-if="form.what === 'reading'"
            v-model="form.after"
            label="Which reading"
            :choices="
              [
                { key: 'found', name: 'Found' },
                ...(amended?.before ? [{ key: 'left', name: 'Left, after the air' }] : []),
              ] as never
            "
          />
          <ChoiceField
            v-if="form.what === 'reading'"
            v-model="form.gauge"
            label="Read with"
            :choices="[
              { key: null as number | null, name: `${readWith}, as entered` },
              ...others.map((g) => ({ key: g.id as number | null, name: g.label })),
            ]"
            :message="fields.gauge"
          />
          <QuantityField
            v-if="form.what === 'reading'"
            v-model="form.pressure"
            :label="`${shown} showed`"
            kind="pressure"
            :message="fields.pressure"
          />
          <TextField v-model="form.reason" label="Reason" :message="fields.reason" />
        </div>
        <div class="mt-3 flex items-center gap-4">
          <button class="button button-next" :disabled="busy">Put it right</button>
          <button type="button" class="link" @click="form.open = false">Leave it</button>
          <Refusal :message="message && !Object.keys(fields).length ? message : ''" />
        </div>
      </form>
    </template>
  </template>
  <p v-else class="text-soft">Fetching the round …</p>
</template>
