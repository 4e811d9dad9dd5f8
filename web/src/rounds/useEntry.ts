/** What is being typed at a wheel: its verdict, keeping it, asking it back, taking it back. */
import { refDebounced, until } from '@vueuse/core'
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import { keep as keepAnswer, keptBefore } from '@/shared/kept'
import { withdraw, type Reading } from '@/shared/outbox'
import { figure, inField, spelled, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import type { Answered } from '@/shared/decide'
import type { OpenRound, Wheel } from './useRound'

/** A second tap in so short a time, with nothing typed since, is the first one's. */
const DOUBLE_MS = 350
/** So long after the last key there is no verdict yet. */
const TYPING_MS = 500
/** So long the walk waits for an answer before it goes on. */
const ANSWER_MS = 1500

/** Outside of what can be expected at a wheel, by the bounds that came with it. */
function unlikely(w: Wheel, cold: number | null | undefined): boolean {
  if (typeof cold !== 'number') return false
  return cold < (w.likely_from_kpa ?? -Infinity) || cold > (w.likely_to_kpa ?? Infinity)
}

export function useEntry(here: OpenRound, speak: (said: Answered) => void, focus: () => void) {
  const entry = ref<Entry>(null)
  const settled = refDebounced(entry, TYPING_MS)
  const notRolled = ref(false)
  const rereading = ref(false)
  const refusal = ref('')
  const lastSaid = ref<{ name: string; wheel: string } | null>(null)
  const after = computed(() => Boolean(here.wheel && !rereading.value && here.isSecond(here.wheel)))

  const inputs = computed(() =>
    entry.value !== null && here.wheel && here.roundId
      ? {
          round: here.roundId,
          wheel: here.wheel.code,
          after: after.value,
          pressure: entry.value,
          not_rolled: notRolled.value,
          gauge: here.own?.gauge ?? null,
        }
      : null,
  )
  const work = useWork(inputs, (body) => answer(api.POST('/api/v1/work/rounds', { body })))
  /** What was answered of just this number at just this wheel. */
  const answered = (w: Wheel) =>
    work.of.value?.wheel === w.code && work.of.value.pressure === entry.value ? work.answer.value : null

  /** The number that was asked back: kept when it is confirmed as it stands. */
  const asked = ref<{ wheel: string; entry: Entry } | null>(null)
  const asking = computed(
    () => asked.value !== null && asked.value.wheel === here.wheel?.code && asked.value.entry === entry.value,
  )
  /** The answer in large: of what is being typed, else of what stands. */
  const shown = computed<Answered | Schemas['AnswerOut'] | null>(() => {
    const w = here.wheel
    if (!w) return null
    if (entry.value !== null) {
      // A verdict belongs to its number: none while that is being typed, and none beside what is refused.
      if (settled.value !== entry.value || asking.value) return null
      // Without a network, or before the server has answered: what the sheets say.
      if (work.unreachable.value || work.stale.value)
        return here.locally(w, entry.value, !notRolled.value && !after.value)
      return work.fields.value.pressure ? null : answered(w)
    }
    if (rereading.value) return null
    return here.localAnswer(w) ?? (w.before ? here.standing(w) : null)
  })
  /** What the gauge must show: of the verdict that is shown, else of the wheel as it stands. Air that waits has no number. */
  const dial = computed(() =>
    shown.value?.word === 'add'
      ? (shown.value.shows_kpa ?? null)
      : (shown.value?.shows_kpa ?? here.wheel?.shows_kpa ?? null),
  )
  const dimmed = computed(() => entry.value !== null && work.stale.value && !work.unreachable.value && !shown.value)
  /** What is wrong with what is typed, or why it has no verdict. */
  const message = computed(() => {
    if (entry.value === null) return undefined
    if (work.fields.value.pressure) return work.fields.value.pressure
    const pending = work.unreachable.value && !shown.value
    return refusal.value || (pending ? 'Pending: keep it, and it is answered once there is a network.' : '')
  })

  let keptAt = 0
  /** The next wheel is not on the screen yet: a tap cannot mean it, however long a slow phone takes to draw it. */
  let unseen = false
  /** Typed for the wheel that comes next while the answer of the one before was still on its way. */
  let ahead: Entry = null
  watch(
    () => here.picked,
    () => {
      unseen = true
      requestAnimationFrame(() => ([unseen, keptAt] = [false, performance.now()]))
      entry.value = ahead
      ahead = null
      notRolled.value = Boolean(here.wheel?.before?.not_rolled)
      rereading.value = false
      void nextTick(focus)
    },
  )
  watch(entry, (now, before) => {
    if (before !== null && now !== before) refusal.value = ''
  })

  /** The wheel in hand and what is typed there outlast a reload and Back, and are there in a second tab. */
  let recalled = false
  const hand = () => `in hand ${here.roundId}`
  watch(
    () => Boolean(here.roundId && here.wheels.length),
    async (there) => {
      if (!there || recalled) return
      const was = await keptBefore<{ wheel: string; entry: Entry }>(hand())
      recalled = true
      const wheel = was && here.wheels.find((w) => w.code === was.wheel)
      // Nothing typed at a wheel that was read meanwhile, and no air to be read after: the walk goes on where it is open.
      const done = (w: Wheel) => here.isRead(w) && !(here.isSecond(w) && w.after === null)
      if (!wheel || entry.value !== null || (was.entry === null && done(wheel))) return
      if (here.picked === wheel.code) entry.value = was.entry
      else [ahead, here.picked] = [was.entry, wheel.code]
    },
    { immediate: true },
  )
  watch([() => here.picked, entry], ([wheel, now]) => {
    if (recalled && here.roundId && wheel) void keepAnswer(hand(), { wheel, entry: now })
  })

  /** Keeps what is typed, and goes on; with nothing typed it goes on. */
  async function keep() {
    const now = here.wheel
    if (!now || !here.roundId) return
    if (entry.value === null) {
      if (!unseen && performance.now() - keptAt >= DOUBLE_MS) here.onward()
      return
    }
    // What was just refused stays, with why.
    if (!work.pending.value && work.fields.value.pressure) return
    const second = after.value
    const foretold = here.locally(now, entry.value, !notRolled.value && !second) ?? answered(now)
    if (!second && !asking.value && unlikely(now, foretold?.cold_kpa)) {
      asked.value = { wheel: now.code, entry: entry.value }
      return
    }
    const reading: Reading = {
      wheel: now.code,
      after: second,
      pressure: entry.value,
      not_rolled: notRolled.value,
      gauge: here.own?.gauge ?? null,
      saw: here.waitingFor(now.code)?.uuid ?? (second ? now.after?.uuid : now.before?.uuid) ?? null,
      read_at: new Date().toISOString(),
    }
    asked.value = null
    keptAt = performance.now()
    lastSaid.value = { name: now.name, wheel: now.code }
    if (foretold) speak(foretold)
    entry.value = null
    rereading.value = false
    const entered = here.enter(reading)
    // Where what is typed was answered already, and asks for no air, the walk goes on at once.
    if (second || (foretold && !foretold.asks_for_air)) here.onward()
    else await onceAnswered(now.code, reading, entered, foretold)
  }

  /** Waits a moment for the answer; without one, or when more is typed, the walk goes on. */
  async function onceAnswered(
    code: string,
    reading: Reading,
    entered: ReturnType<typeof here.enter>,
    foretold: Answered | null,
  ) {
    const left = await Promise.race([
      entered,
      until(entry)
        .not.toBeNull({ timeout: ANSWER_MS, throwOnTimeout: false })
        .then(() => undefined),
    ])
    if (here.picked !== code) return
    if (entry.value !== null) {
      // Where air was asked for, the field asked for the second reading: that is what is being typed.
      if (foretold?.asks_for_air) return
      ahead = entry.value
      here.onward()
      if (here.picked === code) ahead = null
      return
    }
    if (left?.refused) {
      entry.value = reading.pressure as Entry
      refusal.value = left.refused
      await withdraw(left.uuid)
      return
    }
    const now = here.wheels.find((w) => w.code === code)
    const said = now && !here.waitingFor(code) ? now.answer : foretold
    if (said?.asks_for_air) void nextTick(focus)
    else here.onward()
  }

  /** Says again how the first reading is meant: it goes in once more, with what was said of it. */
  async function sayNotRolled() {
    notRolled.value = !notRolled.value
    const first = here.wheel?.before
    if (!here.wheel || !first || entry.value !== null || !here.roundId) return
    const again = { pressure: first.typed, not_rolled: notRolled.value, saw: first.uuid }
    await here.enter({ wheel: here.wheel.code, after: false, ...again })
    focus()
  }
  function readAgain() {
    rereading.value = true
    entry.value = null
    focus()
  }
  /** Of two readings that did not know of each other, the one that is right goes in once more, having seen both. */
  async function settle(right: Schemas['ReadingOut']) {
    if (!here.wheel?.before || !here.roundId) return
    const again = { pressure: right.typed, not_rolled: right.not_rolled, saw: here.wheel.before.uuid }
    await here.enter({ wheel: here.wheel.code, gauge: null, ...again })
  }

  /** The newest entry of this person here. */
  const lastMine = computed(() => {
    const pending = here.waiting.findLast((u) => u.reading && !u.refused)
    if (pending) return { uuid: pending.uuid, wheel: pending.reading!.wheel, waiting: true }
    const own = here.wheels
      .flatMap((w) => [w.before, w.after].map((r) => ({ r, wheel: w.code })))
      .filter(({ r }) => r && r.by_id === here.me?.person)
      .sort((a, b) => (a.r!.at < b.r!.at ? 1 : -1))[0]
    return own ? { uuid: own.r!.uuid, wheel: own.wheel, waiting: false } : null
  })
  /** Takes the last entry back: what waits here simply, what is stored on the server. */
  const undone = useSave(async () => {
    const last = lastMine.value
    if (!last) return
    if (!last.waiting || !(await withdraw(last.uuid)))
      here.takeEntry(
        await answer(
          api.DELETE('/api/v1/rounds/{round_id}/readings/{uuid}', {
            params: { path: { round_id: here.roundId!, uuid: last.uuid } },
          }),
        ),
      )
    here.picked = last.wheel
    void nextTick(focus)
  })

  /** A key of the keypad on the screen. */
  function press(key: string) {
    const text = inField('pressure', entry.value)
    entry.value = spelled('pressure', key === 'back' ? text.slice(0, -1) : text + key)
  }
  /** What a device within reach shows, as if it were typed. */
  function heard(kpa: number) {
    entry.value = spelled('pressure', figure('pressure', kpa).replace(/,/g, ''))
    void nextTick(focus)
  }
  return reactive({
    entry,
    after,
    notRolled,
    rereading,
    asking,
    shown,
    dial,
    dimmed,
    message,
    lastSaid,
    lastMine,
    keep,
    undo: () => undone.save(),
    undoMessage: undone.message,
    sayNotRolled,
    readAgain,
    settle,
    press,
    heard,
  })
}
export type Typing = ReturnType<typeof useEntry>
