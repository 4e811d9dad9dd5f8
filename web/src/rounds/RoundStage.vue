<script setup lang="ts">
/** The check itself: digits, Enter, next. Every reading is kept the moment it is entered. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced, until, useActiveElement, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { queries, useSession } from '@/shared/session'
import { useFrame } from '@/rigs/frame'
import { openRound, refreshRig } from '@/rigs/queries'
import Answer from '@/shared/Answer.vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import Band from '@/shared/Band.vue'
import Banner from '@/shared/Banner.vue'
import Opening from '@/shared/Opening.vue'
import { adrift, keep as keepAnswer, kept } from '@/shared/kept'
import { enter as enterIn, isMine, onStored, unsent, withdraw, type Reading } from '@/shared/outbox'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import {
  figure,
  inField,
  say,
  shortly,
  show,
  spelled,
  system,
  toward,
  unitOf,
  type Entry,
} from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import type { WheelState } from '@/shared/scale'
import type { Word } from '@/shared/words'
import Working from '@/shared/Working.vue'
import { decide } from './decide'
import Equipment from './Equipment.vue'
import HandsFree from './HandsFree.vue'
import Keypad from './Keypad.vue'
import OpenRound from './OpenRound.vue'
import RadioReading from './RadioReading.vue'
import RoundConditions from './RoundConditions.vue'
import SealRound from './SealRound.vue'
import TakeWheels from './TakeWheels.vue'
import WheelNotes from './WheelNotes.vue'
import WheelTable from './WheelTable.vue'

type Wheel = Schemas['RoundWheelOut']
const { id, sheet, states, caption, picked, whole } = useFrame()
whole.value = true
const { may, shown: me } = useSession()
const roundId = computed(() => sheet.value.open_round)
const { data: round } = useQuery(openRound(roundId))
const enter = (reading: Reading) => enterIn(roundId.value!, round.value?.rig_name ?? '', reading)
function take(now: Schemas['RoundOut']) {
  // What was asked for before this was stored must not come in after it.
  void queries.cancelQueries({ queryKey: ['round', now.id], exact: true })
  queries.setQueryData(['round', now.id], now)
  void keepAnswer(`round ${now.id}`, now)
  // Sealed or put away by somebody else meanwhile: what was sent is kept there, and the rig says so.
  if (now.sealed_at || now.abandoned_at) void refreshRig(id.value)
}
/** Every answer as data, fetched while there is a network, for when there is none. */
const { data: bundle } = useQuery({
  queryKey: ['round', roundId, 'offline'],
  queryFn: () =>
    kept(`offline ${roundId.value}`, () =>
      answer(
        api.GET('/api/v1/rounds/{round_id}/offline', { params: { path: { round_id: roundId.value! } } }),
      ),
    ),
  enabled: computed(() => roundId.value !== null),
  staleTime: 60_000,
})
// -- mending, putting away ------------------------------------------------------------
const mending = ref(false)
async function mend(body: Schemas['ConditionsIn'], done: (error?: unknown) => void) {
  try {
    take(
      await answer(
        api.PUT('/api/v1/rounds/{round_id}', { params: { path: { round_id: roundId.value! } }, body }),
      ),
    )
    mending.value = false
    await queries.invalidateQueries({ queryKey: ['round', roundId, 'offline'] })
    done()
  } catch (error) {
    done(error)
  }
}
const { save: abandon, message: abandonMessage } = useSave(async () => {
  await answer(api.DELETE('/api/v1/rounds/{round_id}', { params: { path: { round_id: roundId.value! } } }))
  await refreshRig(id.value)
})

// -- wheel by wheel ----------------------------------------------------------------------------
const entry = ref<Entry>(null)
/** What is typed, half a second after the last key. */
const settled = refDebounced(entry, 500)
const notRolled = ref(false)
const rereading = ref(false)
const lastSaid = ref<{ name: string; wheel: string } | null>(null)
const field = ref<InstanceType<typeof QuantityField>>()
const touch = useMediaQuery('(pointer: coarse)')

const waiting = computed(() => unsent.value.filter((u) => u.round === roundId.value && isMine(u)))
const waitingFor = (code: string) =>
  waiting.value.findLast((u) => u.reading?.wheel === code && !u.refused) as
    { uuid: string; reading: Reading; refused: string } | undefined
const typed = (code: string) => waitingFor(code)?.reading.pressure as Entry | undefined
/** Refused after the walk went on: shown until it is taken back. */
const turnedAway = computed(() => waiting.value.filter((u) => u.refused))
const wheels = computed(() => round.value?.wheels ?? [])
const wheel = computed(() => wheels.value.find((w) => w.code === picked.value))
const isRead = (w: Wheel) => w.before !== null || Boolean(waitingFor(w.code))
const standing = (w: Wheel) => w.after_answer ?? w.answer
const asksForAir = (word: Word) => ['add', 'let_out', 'stop'].includes(word)
const wantsAfter = (w: Wheel) =>
  w.before !== null && w.after === null && !w.locked && asksForAir(w.answer.word)
/** The person's own gauge in this round, else the round's. */
const own = computed(() => round.value?.takes.find((t) => t.person === me.value?.person))
const gaugeId = computed(() => own.value?.gauge ?? round.value?.gauge ?? 0)
const gaugeLabel = computed(() => own.value?.gauge_label ?? round.value?.gauge_label ?? '')
const bySheets = (w: Wheel, pressure: Entry, rolled: boolean) =>
  decide(bundle.value?.decisions ?? [], w.code, gaugeId.value, rolled, pressure)
/** What the sheets say; nothing where the other of two duals was stopped meanwhile: the server says what that means here. */
const locally = (w: Wheel, pressure: Entry, rolled: boolean) => {
  const mate = wheels.value.find((m) => m.code === bundle.value?.mates[w.code])
  const entered = mate && waitingFor(mate.code)
  const of = entered?.reading
  const stopped =
    mate && of && !of.after && bySheets(mate, of.pressure as Entry, !of.not_rolled)?.word === 'stop'
  return stopped ? null : bySheets(w, pressure, rolled)
}
/** A wheel as it stands with what is still on its way, answered by the sheets. */
const localAnswer = (w: Wheel) => {
  const pending = waitingFor(w.code)
  return pending
    ? locally(w, pending.reading.pressure as Entry, !pending.reading.not_rolled && !pending.reading.after)
    : null
}
/** What the next entry on this wheel will be: a second reading once air was asked for. */
const after = computed(() => {
  const w = wheel.value
  if (!w || rereading.value) return false
  const pending = waitingFor(w.code)
  if (pending) {
    const said = localAnswer(w)
    return !pending.reading.after && Boolean(said && asksForAir(said.word) && !said.locked)
  }
  return Boolean(w.before && (wantsAfter(w) || w.after))
})
/** Read, or skipped with a reason: nothing is left to do there. */
const isDone = (w: Wheel) =>
  isRead(w) ||
  Boolean(w.seen.skipped) ||
  waiting.value.some((u) => u.note?.wheel === w.code && u.note.skipped)
const unread = computed(() => wheels.value.filter((w) => !isDone(w)))
const notesWaiting = computed(() =>
  waiting.value.flatMap((u) => (u.note && u.note.wheel === wheel.value?.code && !u.refused ? [u.note] : [])),
)

const inputs = computed(() =>
  entry.value !== null && wheel.value && roundId.value
    ? {
        round: roundId.value,
        wheel: wheel.value.code,
        after: after.value,
        pressure: entry.value,
        not_rolled: notRolled.value,
        gauge: own.value?.gauge ?? null,
      }
    : null,
)
const work = useWork(inputs, (body) => answer(api.POST('/api/v1/work/rounds', { body })))
/** The answer in large: of what is being typed, else of what stands. */
const shown = computed(() => {
  const w = wheel.value
  if (!w) return null
  if (entry.value !== null) {
    // A verdict belongs to its number: none while that is being typed, and none beside what is refused.
    if (settled.value !== entry.value || asking.value) return null
    // Without a network, or before the server has answered: what the sheets say.
    if (work.unreachable.value || work.stale.value)
      return locally(w, entry.value, !notRolled.value && !after.value)
    const mine = work.of.value?.wheel === w.code && work.of.value.pressure === entry.value
    return work.fields.value.pressure || !mine ? null : work.answer.value
  }
  if (rereading.value) return null
  return localAnswer(w) ?? (w.before ? standing(w) : null)
})
/** What the gauge must show: of the verdict that is shown, else of the wheel as it stands. Air that waits has no number. */
const dial = computed(() =>
  shown.value?.word === 'add'
    ? (shown.value.shows_kpa ?? null)
    : (shown.value?.shows_kpa ?? wheel.value?.shows_kpa ?? null),
)
/** What a gauge shows at the ceiling is not rounded past it. */
const shownToward = (w: Wheel) =>
  w.here_kpa !== null && toward(w.here_kpa, w.ceiling_kpa) === 'down'
    ? ('down' as const)
    : ('nearest' as const)
const dimmed = computed(
  () => entry.value !== null && work.stale.value && !work.unreachable.value && !shown.value,
)

watch(
  [wheels, () => picked.value],
  () => {
    if (wheels.value.length && !wheel.value) picked.value = (unread.value[0] ?? wheels.value[0])!.code
  },
  { immediate: true },
)
/** Typed for the wheel that comes next while the answer of the one before was still on its way. */
let ahead: Entry = null
watch(
  () => picked.value,
  () => {
    entry.value = ahead
    ahead = null
    notRolled.value = Boolean(wheel.value?.before?.not_rolled)
    rereading.value = false
    void nextTick(here)
  },
)
const verdict = ref<HTMLElement>()
/** To the field, its verdict in sight above the keypad. */
function here() {
  field.value?.focus()
  if (touch.value) verdict.value?.scrollIntoView({ block: 'nearest' })
}
onMounted(here)
watch(
  () => Boolean(round.value),
  () => nextTick(here),
)

function step(by: number) {
  const at = wheels.value.findIndex((w) => w.code === picked.value)
  const next = wheels.value[Math.min(wheels.value.length - 1, Math.max(0, at + by))]
  if (next) picked.value = next.code
}
/** On to the next wheel that is not read, going round; stays when all are. */
function onward() {
  const at = wheels.value.findIndex((w) => w.code === picked.value)
  const order = [...wheels.value.slice(at + 1), ...wheels.value.slice(0, at)]
  // Of what somebody else took, nothing is offered while there is something of one's own.
  const mine = (w: Wheel) => !w.taken_by || w.taken_by_id === me.value?.person
  const next =
    order.find((w) => !isDone(w) && mine(w)) ?? order.find((w) => !isDone(w)) ?? wheels.value[at + 1]
  if (next) picked.value = next.code
}

/** A second tap in so short a time, with nothing typed since, is the first one's. */
const DOUBLE_MS = 350
let keptAt = 0
/** The number that was asked back: kept when it is confirmed as it stands. */
const asked = ref<{ wheel: string; entry: Entry } | null>(null)
const asking = computed(
  () => asked.value !== null && asked.value.wheel === wheel.value?.code && asked.value.entry === entry.value,
)
/** Outside of what can be expected here, by the bounds that came with the wheel. */
function unlikely(w: Wheel, cold: number | null | undefined): boolean {
  if (typeof cold !== 'number') return false
  return cold < (w.likely_from_kpa ?? -Infinity) || cold > (w.likely_to_kpa ?? Infinity)
}

async function keep() {
  const now = wheel.value
  if (!now || !roundId.value) return
  if (entry.value === null) {
    if (performance.now() - keptAt < DOUBLE_MS) return
    onward()
    return
  }
  if (!work.stale.value && work.fields.value.pressure) return
  const second = after.value
  const reading: Reading = {
    wheel: now.code,
    after: second,
    pressure: entry.value,
    not_rolled: notRolled.value,
    gauge: own.value?.gauge ?? null,
    saw: waitingFor(now.code)?.uuid ?? (second ? now.after?.uuid : now.before?.uuid) ?? null,
    read_at: new Date().toISOString(),
  }
  const known = work.of.value?.wheel === now.code && work.of.value.pressure === entry.value
  const foretold =
    locally(now, entry.value, !notRolled.value && !second) ?? (known ? work.answer.value : null)
  if (!second && !asking.value && unlikely(now, foretold?.cold_kpa)) {
    asked.value = { wheel: now.code, entry: entry.value }
    return
  }
  asked.value = null
  keptAt = performance.now()
  lastSaid.value = { name: now.name, wheel: now.code }
  if (foretold) speak(foretold)
  entry.value = null
  rereading.value = false
  const entered = enter(reading)
  // Where what is typed was answered already, and asks for no air, the walk goes on at once.
  if (second || (foretold && !asksForAir(foretold.word))) {
    onward()
    return
  }
  // Else it waits a moment for the answer; without one, or when more is typed, the walk goes on.
  const left = await Promise.race([
    entered,
    until(entry)
      .not.toBeNull({ timeout: 1500, throwOnTimeout: false })
      .then(() => undefined),
  ])
  if (picked.value !== now.code) return
  if (entry.value !== null) {
    // Where air was asked for, the field asked for the second reading: that is what is being typed.
    if (foretold && asksForAir(foretold.word)) return
    ahead = entry.value
    onward()
    if (picked.value === now.code) ahead = null
    return
  }
  if (left?.refused) {
    entry.value = reading.pressure as Entry
    refusal.value = left.refused
    await withdraw(left.uuid)
    return
  }
  const answered = wheels.value.find((w) => w.code === now.code)
  const said = answered && !waitingFor(now.code) ? answered.answer : foretold
  if (said && asksForAir(said.word)) {
    void nextTick(() => field.value?.focus())
    return
  }
  onward()
}
/** Takes the last entry back: what waits here simply, what is stored on the server. */
const { save: undo, message: undoMessage } = useSave(async () => {
  const last = lastMine.value
  if (!last) return
  if (!last.waiting || !(await withdraw(last.uuid)))
    take(
      await answer(
        api.DELETE('/api/v1/rounds/{round_id}/readings/{uuid}', {
          params: { path: { round_id: roundId.value!, uuid: last.uuid } },
        }),
      ),
    )
  picked.value = last.wheel
  void nextTick(() => field.value?.focus())
})
/** The newest entry of this person here. */
const lastMine = computed(() => {
  const pending = waiting.value.findLast((u) => u.reading && !u.refused)
  if (pending) return { uuid: pending.uuid, wheel: pending.reading!.wheel, waiting: true }
  const own = wheels.value
    .flatMap((w) => [w.before, w.after].map((r) => ({ r, wheel: w.code })))
    .filter(({ r }) => r && r.by_id === me.value?.person)
    .sort((a, b) => (a.r!.at < b.r!.at ? 1 : -1))[0]
  return own ? { uuid: own.r!.uuid, wheel: own.wheel, waiting: false } : null
})
const refusal = ref('')
watch(entry, (now, before) => {
  if (before !== null && now !== before) refusal.value = ''
})

/** Says again how the first reading is meant: it goes in once more, with what was said of it. */
async function sayNotRolled() {
  notRolled.value = !notRolled.value
  const now = wheel.value
  if (now?.before && entry.value === null && roundId.value) {
    await enter({
      wheel: now.code,
      after: false,
      pressure: now.before.typed,
      not_rolled: notRolled.value,
      saw: now.before.uuid,
    })
    field.value?.focus()
  }
}
function readAgain() {
  rereading.value = true
  entry.value = null
  field.value?.focus()
}

function onKey(event: KeyboardEvent) {
  if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
    event.preventDefault()
    step(event.key === 'ArrowUp' ? -1 : 1)
  } else if (event.altKey && event.code === 'KeyN') {
    event.preventDefault()
    void sayNotRolled()
  } else if (event.altKey && event.code === 'KeyU') {
    event.preventDefault()
    void undo()
  } else if (event.altKey && event.code === 'KeyR') {
    event.preventDefault()
    readAgain()
  } else if (event.altKey && notes.value?.letter(event.code)) {
    event.preventDefault()
  }
}
const notes = ref<InstanceType<typeof WheelNotes>>()
/** What is noted with a thumb, above the keypad. */
const QUICK = [
  { name: 'Leak', press: () => notes.value?.letter('KeyL') },
  { name: 'Cap', press: () => notes.value?.letter('KeyC') },
  { name: 'Skip', press: () => notes.value?.letter('KeyS') },
  { name: 'Undo', press: () => void undo() },
]
/** A text is being written: the keys of the phone itself are up. */
const active = useActiveElement()
const writingElsewhere = computed(
  () =>
    touch.value &&
    Boolean(active.value?.matches('textarea, input:not([inputmode="none"]):not([type="checkbox"])')),
)
/** One's own round, or anybody's with the right to. */
const mayAbandon = computed(
  () => may('rounds') && (round.value?.opened_by_id === me.value?.person || may('rigs')),
)

// -- hands free --------------------------------------------------------------------------------
const handsFree = ref(false)
const aloud = ref(false)
/** The browser's own voice; where it has none, nothing is said. */
function utter(words: string) {
  if (!aloud.value || !('speechSynthesis' in window)) return
  window.speechSynthesis.cancel()
  window.speechSynthesis.speak(new SpeechSynthesisUtterance(words))
}
const speak = (said: Schemas['AnswerOut']) => utter(say(said.words))
watch([() => wheel.value?.code, aloud], () => wheel.value && utter(wheel.value.name))
const deviceRead = (kpa: number) => {
  entry.value = spelled('pressure', figure('pressure', kpa).replace(/,/g, ''))
  void nextTick(() => field.value?.focus())
}
function press(key: string) {
  const text = inField('pressure', entry.value)
  entry.value = spelled('pressure', key === 'back' ? text.slice(0, -1) : text + key)
}

onUnmounted(onStored((now) => now.id === roundId.value && take(now)))

// -- the plan ----------------------------------------------------------------------------------
watch(
  [wheels, waiting, system, bundle],
  () => {
    if (!round.value) {
      states.value = null
      caption.value = ''
      return
    }
    const found: Record<string, WheelState> = {}
    for (const w of wheels.value) {
      const pending = waitingFor(w.code)
      const said = localAnswer(w) ?? standing(w)
      found[w.code] = {
        floor: w.floor_kpa,
        target: w.here_kpa,
        ceiling: w.ceiling_kpa,
        level: said.cold_kpa,
        word: said.word,
        words: shortly(said),
        change: said.change_kpa,
        estimate: said.estimate,
        ...(pending && said.cold_kpa === null
          ? { text: inField('pressure', pending.reading.pressure as Entry) }
          : {}),
      }
    }
    states.value = found
    caption.value = `${wheels.value.filter(isRead).length} of ${wheels.value.length} read`
  },
  { immediate: true, deep: true },
)

const sealing = ref(false)
const canSpeak = 'speechSynthesis' in window
/** Of two readings that did not know of each other, the one that is right goes in once more, having seen both. */
async function settle(right: Schemas['ReadingOut']) {
  if (!wheel.value?.before || !roundId.value) return
  await enter({
    wheel: wheel.value.code,
    pressure: right.typed,
    not_rolled: right.not_rolled,
    saw: wheel.value.before.uuid,
    gauge: null,
  })
}
const clock = (iso: string) =>
  new Date(iso).toLocaleTimeString('en-US', { hour: 'numeric', minute: '2-digit' })
const lastStored = computed(() =>
  wheels.value
    .flatMap((w) => [w.before, w.after])
    .filter((r) => r !== null)
    .map((r) => r.at)
    .sort()
    .at(-1),
)
const lastAnswer = computed(() => {
  const last = lastSaid.value && wheels.value.find((w) => w.code === lastSaid.value!.wheel)
  return last && last.code !== wheel.value?.code && last.before
    ? { name: last.name, answer: standing(last), target: last.here_kpa }
    : last && last.code !== wheel.value?.code && localAnswer(last)
      ? { name: last.name, answer: localAnswer(last)!, target: last.here_kpa }
      : null
})
</script>

<template>
  <OpenRound v-if="!roundId" @opened="take" />

  <template v-else-if="round && wheel">
    <div class="flex flex-wrap items-baseline justify-between gap-x-6">
      <h1 aria-live="polite" class="text-2xl">
        {{ wheel.name }} <span class="font-normal text-soft">· {{ wheel.code }}</span>
      </h1>
      <p class="text-soft">
        {{ round.cold ? 'cold' : 'warm, an estimate' }}
        <template v-if="wheel.here_kpa !== null">
          · target here
          <b class="text-ink">{{
            figure('pressure', wheel.here_kpa, toward(wheel.here_kpa, wheel.ceiling_kpa))
          }}</b>
          <template v-if="wheel.shows_kpa !== null">
            · {{ gaugeLabel }} should show
            <b class="text-ink">{{ figure('pressure', wheel.shows_kpa, shownToward(wheel)) }}</b>
          </template>
        </template>
        <template v-else-if="wheel.missing"> · no target known</template>
        <template v-if="typeof wheel.expected_kpa === 'number'">
          · expected {{ figure('pressure', wheel.expected_kpa) }} ±
          {{ figure('pressure', wheel.expected_within_kpa!, 'up') }}
        </template>
        <template v-if="wheel.taken_by"> · {{ wheel.taken_by }} has it</template>
      </p>
    </div>
    <Banner v-if="adrift" class="mt-2 text-sm"
      >No network: the round goes on. What you enter is kept in this browser and sent by itself.</Banner
    >
    <Banner v-if="sheet.targets?.out_of_date.length" loud class="mt-2 text-sm">
      The targets of this round are out of date: {{ sheet.targets.out_of_date.join(', ') }}. What holds here
      may not carry the load now.
    </Banner>
    <p v-for="(u, i) in round.unlike" :key="`u${i}`" class="mt-2 text-sm font-semibold text-rust">
      {{ say(u) }}
    </p>
    <p v-if="wheel.missing" class="mt-2 text-sm font-semibold text-rust">{{ say(wheel.missing) }}</p>
    <Banner v-if="round.gauge_condition" class="mt-2 text-sm"
      >{{ round.gauge_label }}: {{ say(round.gauge_condition) }}</Banner
    >

    <HandsFree v-if="handsFree" :name="wheel.name" :answer="shown" :target="wheel.here_kpa" />
    <div class="mt-3 gap-7 sm:flex sm:min-h-40">
      <form class="w-full shrink-0 sm:w-64" novalidate @submit.prevent="keep" @keydown="onKey">
        <QuantityField
          ref="field"
          v-model="entry"
          large
          kind="pressure"
          :label="
            after
              ? `After the air, on ${gaugeLabel}`
              : rereading
                ? `Read again on ${gaugeLabel}`
                : `Reading on ${gaugeLabel}`
          "
          :inputmode="touch ? 'none' : 'decimal'"
          enterkeyhint="next"
          :disabled="!may('rounds')"
          :message="
            entry !== null
              ? (work.fields.value.pressure ??
                (refusal ||
                  (work.unreachable.value && !shown
                    ? 'Pending: kept, and answered once there is a network.'
                    : '')))
              : undefined
          "
        />
        <button class="sr-only" tabindex="-1" type="submit">Keep</button>
      </form>
      <!-- On a phone of one height, whatever stands in it: nothing under the thumb moves. -->
      <div
        ref="verdict"
        class="mt-2 min-w-0 flex-1 overflow-y-auto max-sm:h-40 max-sm:scroll-mb-72 sm:mt-6"
        :class="{ stale: dimmed }"
        aria-live="polite"
      >
        <template v-if="asking">
          <p class="text-3xl font-bold text-rust">
            {{ inField('pressure', entry) }}? Expected {{ figure('pressure', wheel.expected_kpa!) }}
          </p>
          <p class="mt-1">Keep it once more if {{ gaugeLabel }} really shows that.</p>
        </template>
        <template v-else-if="shown">
          <Answer :answer="shown" :target="wheel.here_kpa" size="large" />
          <p v-if="shown.word === 'add' && dial !== null" class="mt-1">
            Fill until {{ gaugeLabel }} shows <b>{{ show('pressure', dial, 'nearest') }}</b>: its error is in
            that<template v-if="shown.estimate">, and the warmth of the tire</template>.
            <template v-if="!after && entry === null">Then read again.</template>
          </p>
          <p v-if="shown.cold_kpa !== null" class="text-soft">
            True {{ show('pressure', shown.cold_kpa) }} ± {{ show('pressure', shown.uncertainty_kpa!, 'up')
            }}{{ shown.estimate ? ', as if cold: an estimate' : '' }}
          </p>
          <p
            v-for="(n, i) in shown.notes"
            :key="i"
            class="text-sm"
            :class="{ 'font-semibold text-rust': shown.word === 'stop' }"
          >
            {{ say(n) }}
          </p>
        </template>
        <p v-else class="text-soft">Cap off, gauge on, digits, {{ touch ? 'Keep' : 'Enter' }}.</p>
      </div>
    </div>
    <p class="flex h-7 items-center gap-2 truncate text-sm text-soft">
      <template v-if="lastAnswer">
        {{ lastAnswer.name }}: <Answer :answer="lastAnswer.answer" :target="lastAnswer.target ?? null" />
      </template>
    </p>

    <div v-if="wheel.others.length" class="mt-3 border-l-4 border-rust pl-3">
      <p class="font-bold text-rust">
        Read twice, neither knowing of the other. Both are kept: read it once more, or keep the one that is
        right.
      </p>
      <p v-for="r in [wheel.before!, ...wheel.others]" :key="r.uuid">
        {{ r.by }}, {{ clock(r.at) }}: <b>{{ r.typed }}</b> on {{ r.gauge }}, true
        {{ show('pressure', r.corrected_kpa) }}
        <button type="button" class="link ml-2" @click="settle(r)">This one is right</button>
      </p>
    </div>

    <div
      v-if="(touch || handsFree) && may('rounds') && !sealing && !writingElsewhere"
      class="bg-paper max-lg:fixed max-lg:inset-x-0 max-lg:bottom-0 max-lg:z-20 max-lg:border-t max-lg:border-hairline max-lg:p-2 lg:mt-3"
      :class="{ 'lg:hidden': !handsFree }"
    >
      <div class="mb-1.5 grid grid-cols-4 gap-1.5" role="group" aria-label="At this wheel">
        <button
          v-for="q in QUICK"
          :key="q.name"
          type="button"
          class="h-11 cursor-pointer touch-manipulation rounded-md border border-hairline font-semibold text-teal"
          :disabled="q.name === 'Undo' && !lastMine"
          @click="q.press()"
        >
          {{ q.name }}
        </button>
      </div>
      <Keypad
        :keep="entry === null ? (after ? 'No second reading' : 'Next') : 'Keep'"
        @key="press"
        @keep="keep"
      />
    </div>
    <div class="mt-3 flex flex-wrap gap-2.5">
      <button
        type="button"
        class="button"
        :class="{ 'button-next': unread.length || entry !== null, 'max-lg:hidden': touch }"
        @click="keep"
      >
        {{ entry === null ? (after ? 'No second reading, next' : 'Next wheel') : 'Keep, next wheel' }}
        <span aria-hidden="true">↵</span>
      </button>
      <button
        v-if="!wheel.spare"
        type="button"
        class="button"
        :aria-pressed="notRolled"
        :class="{ 'bg-tealwash': notRolled }"
        title="Alt+N"
        @click="sayNotRolled"
      >
        {{ notRolled ? '✓ ' : '' }}Has not rolled like this
      </button>
      <button v-if="wheel.before" type="button" class="button" title="Alt+R" @click="readAgain">
        Read again
      </button>
      <button v-if="lastMine" type="button" class="button max-lg:hidden" title="Alt+U" @click="undo()">
        Take {{ lastMine.wheel }} back
      </button>
      <button
        v-if="may('rounds')"
        type="button"
        class="button sm:ml-auto"
        :class="{ 'button-next': !unread.length && entry === null }"
        :disabled="Boolean(waiting.length)"
        @click="sealing = true"
      >
        Seal the round
      </button>
    </div>
    <WheelNotes
      v-if="may('rounds')"
      ref="notes"
      class="mt-3"
      :round="round.id"
      :rig="round.rig_name"
      :wheel="wheel"
      :pending="notesWaiting"
    />
    <RadioReading
      v-if="may('rounds')"
      class="mt-2"
      :round="round.id"
      :wheel="wheel.code"
      :dial="after || shown?.word === 'add' ? dial : null"
      @heard="deviceRead"
    />
    <SealRound v-if="sealing" class="mt-3" :round="round" :unread="unread" @leave="sealing = false" />
    <Refusal :message="abandonMessage || undoMessage" />

    <Band
      v-if="wheel.here_kpa !== null"
      class="mt-3"
      :label="wheel.name"
      :floor="wheel.floor_kpa"
      :target="wheel.here_kpa"
      :ceiling="wheel.ceiling_kpa"
      :level="shown?.cold_kpa ?? null"
      :flags="shown?.cold_kpa ? [{ name: 'now', kpa: shown.cold_kpa }] : []"
    />
    <p v-for="(n, i) in wheel.target_notes" :key="i" class="text-sm">{{ say(n) }}</p>

    <ul v-if="turnedAway.length" class="mt-3">
      <li v-for="u in turnedAway" :key="u.uuid" class="text-rust">
        {{ u.reading?.wheel ?? u.note?.wheel }}, {{ u.reading?.pressure ?? 'a note' }}: {{ u.refused }}
        <button
          type="button"
          class="link"
          @click="((picked = u.reading?.wheel ?? u.note!.wheel), withdraw(u.uuid))"
        >
          {{ u.reading ? 'Read it again' : 'Take it back' }}
        </button>
      </li>
    </ul>
    <ul v-if="round.findings.length" class="mt-3">
      <li v-for="f in round.findings" :key="f" class="font-semibold text-rust">{{ f }}</li>
    </ul>

    <WheelTable
      class="mt-4"
      :wheels="wheels"
      :current="wheel.code"
      :waiting="typed"
      :answer="(w) => localAnswer(w) ?? w.answer"
      @pick="picked = $event"
    />
    <p class="mt-2 text-sm" :class="waiting.length ? 'font-semibold text-rust' : 'text-soft'" role="status">
      <template v-if="waiting.length">
        {{ waiting.length }} {{ waiting.length === 1 ? 'entry is' : 'entries are' }} kept in this browser and
        not yet on the server. Sent as soon as it answers.
      </template>
      <template v-else-if="lastStored"
        >Kept on the server, {{ clock(lastStored) }}. Pressures in {{ unitOf('pressure') }}.</template
      >
      <template v-else>Nothing read yet.</template>
    </p>

    <div class="mt-4 flex flex-wrap gap-x-8 gap-y-2 border-t border-hairline pt-3">
      <Opening v-if="shown" label="Working of the answer" class="min-w-64 flex-1"
        ><Working :lines="[...wheel.target_working, ...shown.working]"
      /></Opening>
      <button type="button" class="link self-start py-1" :aria-expanded="mending" @click="mending = !mending">
        {{ round.place || 'Air by hand' }}, {{ show('temperature', round.outside_c) }},
        {{
          typeof round.shop_c === 'number'
            ? `in a shop of ${show('temperature', round.shop_c)}`
            : `stood ${round.standing_h} h`
        }}: mend
      </button>
      <label class="flex items-center gap-2 self-start py-1"
        ><input v-model="handsFree" type="checkbox" class="size-5 accent-teal" /> Large figures</label
      >
      <label v-if="canSpeak" class="flex items-center gap-2 self-start py-1"
        ><input v-model="aloud" type="checkbox" class="size-5 accent-teal" /> Read aloud</label
      >
      <button v-if="mayAbandon" type="button" class="link self-start py-1" @click="abandon()">
        Abandon the round
      </button>
      <p v-if="round.unchecked" class="text-sm font-medium text-rust">
        Its targets come from a table that nobody checked a second time.
      </p>
    </div>
    <TakeWheels v-if="may('rounds')" class="mt-4" :round="round" @taken="take" />
    <Opening label="The right gauge and inflator" class="mt-2"><Equipment /></Opening>
    <RoundConditions
      v-if="mending"
      class="mt-4"
      :air="sheet.air.air"
      :rig="id"
      :round="round"
      action="Mend, answer again"
      @save="mend"
    >
      <button type="button" class="link" @click="mending = false">Leave as it is</button>
    </RoundConditions>
  </template>
  <p v-else class="text-soft">Fetching the round …</p>
  <!-- What the pinned keypad covers can be scrolled out from under it. -->
  <div v-if="touch && roundId" class="h-80 lg:hidden" aria-hidden="true" />
</template>
