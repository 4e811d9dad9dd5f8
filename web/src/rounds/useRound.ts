/** The open round on this page: its wheels as they stand, with what is still on its way, and the decisions for no network. */
import { useQuery } from '@tanstack/vue-query'
import { computed, onScopeDispose, onUnmounted, reactive, watch, watchEffect } from 'vue'
import { useFrame } from '@/rigs/frame'
import { openRound, refreshRig, withEntry } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import { keep as keepAnswer, kept } from '@/shared/kept'
import { enter as enterIn, isMine, onStored, unsent, type Reading } from '@/shared/outbox'
import { queries, useSession } from '@/shared/session'
import { inField, shortly, type Entry } from '@/shared/units'
import type { WheelState } from '@/shared/scale'
import { decide } from '@/shared/decide'
import { afterPaint } from '@/shared/soon'

export type Wheel = Schemas['RoundWheelOut']
/** A reading that waits here. */
interface Pending {
  uuid: string
  reading: Reading
  refused: string
}

/** Every answer as data, fetched while there is a network, for when there is none. */
function useBundle(roundId: { readonly value: number | null }) {
  return useQuery({
    queryKey: ['round', roundId, 'offline'],
    queryFn: () =>
      kept(`offline ${roundId.value}`, () =>
        answer(api.GET('/api/v1/rounds/{round_id}/offline', { params: { path: { round_id: roundId.value! } } })),
      ),
    enabled: computed(() => roundId.value !== null),
    staleTime: 60_000,
    shallow: true,
  })
}

export function useRound() {
  const { id, sheet, picked } = useFrame()
  const { shown: me } = useSession()
  const roundId = computed(() => sheet.value.open_round)
  // What others enter is seen within five seconds, while this page is looked at.
  const { data: round } = useQuery({ ...openRound(roundId), refetchInterval: 4_000 })
  const { data: bundle } = useBundle(roundId)

  /** Takes what the server says of the round by now. */
  function take(now: Schemas['RoundOut']) {
    // What was asked for before this was stored must not come in after it.
    void queries.cancelQueries({ queryKey: ['round', now.id], exact: true })
    queries.setQueryData(['round', now.id], now)
    void keepAnswer(`round ${now.id}`, now)
    // Sealed or put away by somebody else meanwhile: what was sent is kept there, and the rig says so.
    if (now.sealed_at || now.abandoned_at) void refreshRig(id.value)
  }
  /** Takes what the server says that an entry changed. */
  function takeEntry(entered: Schemas['EnteredOut']) {
    if (entered.id !== roundId.value) return
    if (round.value) take(withEntry(round.value, entered))
    else void queries.invalidateQueries({ queryKey: ['round', entered.id], exact: true })
  }
  onUnmounted(onStored(takeEntry))
  const enter = (reading: Reading) => enterIn(roundId.value!, round.value?.rig_name ?? '', reading)

  const wheels = computed(() => round.value?.wheels ?? [])
  const wheel = computed(() => wheels.value.find((w) => w.code === picked.value))
  const waiting = computed(() => unsent.value.filter((u) => u.round === roundId.value && isMine(u)))
  const waitingFor = (code: string) =>
    waiting.value.findLast((u) => u.reading?.wheel === code && !u.refused) as Pending | undefined
  /** Refused after the walk went on: shown until it is taken back. */
  const turnedAway = computed(() => waiting.value.filter((u) => u.refused))
  const isRead = (w: Wheel) => w.before !== null || Boolean(waitingFor(w.code))
  /** Read, or skipped with a reason: nothing is left to do there. */
  const isDone = (w: Wheel) =>
    isRead(w) || Boolean(w.seen.skipped) || waiting.value.some((u) => u.note?.wheel === w.code && u.note.skipped)
  const unread = computed(() => wheels.value.filter((w) => !isDone(w)))

  /** The person's own gauge in this round, else the round's. */
  const own = computed(() => round.value?.takes.find((t) => t.person === me.value?.person))
  const gaugeLabel = computed(() => own.value?.gauge_label ?? round.value?.gauge_label ?? '')
  const bySheets = (w: Wheel, pressure: Entry, rolled: boolean) =>
    decide(bundle.value?.decisions ?? [], w.code, own.value?.gauge ?? round.value?.gauge ?? 0, rolled, pressure)
  /** What the sheets say; nothing where the other of two duals may have been stopped meanwhile: the server says what that means. */
  function locally(w: Wheel, pressure: Entry, rolled: boolean) {
    const mate = wheels.value.find((m) => m.code === bundle.value?.mates[w.code])
    const of = mate && waitingFor(mate.code)?.reading
    const beside = mate && of && !of.after && bySheets(mate, of.pressure as Entry, !of.not_rolled)
    return beside && beside.stops_mate ? null : bySheets(w, pressure, rolled)
  }
  /** A wheel as it stands with what is still on its way, answered by the sheets. */
  function localAnswer(w: Wheel) {
    const of = waitingFor(w.code)?.reading
    return of ? locally(w, of.pressure as Entry, !of.not_rolled && !of.after) : null
  }
  const standing = (w: Wheel) => w.after_answer ?? w.answer
  /** What the next entry on a wheel will be: a second reading once air was asked for. */
  function isSecond(w: Wheel): boolean {
    const pending = waitingFor(w.code)
    if (pending) {
      const said = localAnswer(w)
      return !pending.reading.after && Boolean(said?.asks_for_air && !said.locked)
    }
    return Boolean(w.before && (w.wants_second || w.after))
  }

  watch(
    [wheels, picked],
    () => {
      if (wheels.value.length && !wheel.value) picked.value = (unread.value[0] ?? wheels.value[0])!.code
    },
    { immediate: true },
  )
  const at = () => wheels.value.findIndex((w) => w.code === picked.value)
  function step(by: number) {
    const next = wheels.value[Math.min(wheels.value.length - 1, Math.max(0, at() + by))]
    if (next) picked.value = next.code
  }
  /** On to the next wheel that is not read, going round; stays when all are. */
  function onward() {
    const order = [...wheels.value.slice(at() + 1), ...wheels.value.slice(0, at())]
    // Of what somebody else took, nothing is offered while there is something of one's own.
    const mine = (w: Wheel) => !w.taken_by || w.taken_by_id === me.value?.person
    const next = order.find((w) => !isDone(w) && mine(w)) ?? order.find((w) => !isDone(w)) ?? wheels.value[at() + 1]
    if (next) picked.value = next.code
  }
  return reactive({
    id,
    sheet,
    picked,
    me,
    roundId,
    round,
    bundle,
    wheels,
    wheel,
    waiting,
    turnedAway,
    unread,
    own,
    gaugeLabel,
    take,
    takeEntry,
    enter,
    waitingFor,
    isRead,
    locally,
    localAnswer,
    standing,
    isSecond,
    step,
    onward,
  })
}
export type OpenRound = ReturnType<typeof useRound>

/** Draws the round into the plan: what is read, and what is still on its way; once the next wheel is on the screen, which comes first. */
export function useRoundOnPlan(here: OpenRound) {
  const { states, caption, whole } = useFrame()
  whole.value = true
  let drawn: Record<string, WheelState> | null = null
  function stateOf(w: Wheel): WheelState {
    const pending = here.waitingFor(w.code)
    const said = here.localAnswer(w) ?? here.standing(w)
    const now: WheelState = {
      floor: w.floor_kpa,
      target: w.here_kpa,
      ceiling: w.ceiling_kpa,
      level: said.cold_kpa,
      word: said.word,
      words: shortly(said),
      change: said.change_kpa,
      estimate: said.estimate,
      ...(pending && said.cold_kpa === null ? { text: inField('pressure', pending.reading.pressure as Entry) } : {}),
    }
    // A wheel that stands as it stood is not drawn anew.
    const before = drawn?.[w.code]
    return before && JSON.stringify(before) === JSON.stringify(now) ? before : now
  }
  // What it reads it waits for; all of the sheets are never looked through.
  watchEffect(() => {
    const at = here.round ? Object.fromEntries(here.wheels.map((w) => [w.code, stateOf(w)])) : null
    const said = at ? `${here.wheels.filter(here.isRead).length} of ${here.wheels.length} read` : ''
    const first = drawn === null
    drawn = at
    const draw = () => drawn === at && ([states.value, caption.value] = [at, said])
    if (first) draw()
    else afterPaint(draw)
  })
  onScopeDispose(() => (drawn = {}))
}
