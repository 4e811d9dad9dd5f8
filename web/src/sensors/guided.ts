/** The lamp's guided way without a network: looked up in the rows that the server gave while it could be reached. */
import { decide } from '@/shared/decide'
import type { Schemas } from '@/shared/api/client'

export type Carried = Schemas['LampCarried']
type Way = Schemas['GuideWay']
export type Answers = Required<Omit<Schemas['WorkLampIn'], 'gauge' | 'rig'>> & { gauge: number | null }
/** A tire as it was read, as the core's guide takes it. */
export interface Read {
  code: string
  name: string
  spare: boolean
  word: string
  lacks: number | null
}
export type Asked = Pick<Answers, 'light' | 'which' | 'seen' | 'aired' | 'after'> & {
  reads: Read[]
  left_out: [name: string, reason: string][]
}

const fits = (way: Way, facts: Set<string>) =>
  way.holds.every((f) => facts.has(f)) && !way.lacks.some((f) => facts.has(f))
/** What a person wrote, inside a phrase: its braces are no places for measures. */
const plain = (text: string) => text.replaceAll('{', '(').replaceAll('}', ')')

/** Which tires words can be about, and what is known: as the core has it, see its cases. */
export function known(of: Asked, { alike, unread }: Pick<Carried, 'alike' | 'unread'>) {
  const rolling = of.reads.filter((r) => !r.spare)
  const low = of.reads.filter((r) => r.word === 'add')
  const onRoad = low.filter((r) => !r.spare)
  const shares = (from: Read[]) => from.flatMap((r) => (r.lacks === null ? [] : [r.lacks]))
  const least = Math.min(...shares(rolling))
  const lackMore = onRoad.filter((r) => r.lacks === null || r.lacks > (least === Infinity ? 0 : least) + alike)
  const reads: Record<string, Read[]> = {
    stopped: of.reads.filter((r) => r.word === 'stop'),
    left: of.reads.filter((r) => unread.includes(r.word)),
    low,
    own: lackMore.length ? lackMore : onRoad,
  }
  const lacks = shares(onRoad)
  const spread = Math.max(...lacks) - Math.min(...lacks)
  const facts: Record<string, boolean> = {
    lit: of.light !== null,
    flashing: of.light === 'flashing',
    which: of.which !== '',
    seen: of.seen !== null,
    flat: of.seen === 'flat',
    object: of.seen === 'object',
    read: of.reads.length > 0,
    stopped: reads.stopped!.length > 0,
    left: reads.left!.length > 0,
    low: low.length > 0,
    aired: of.aired === true,
    after: of.after !== null,
    on: of.after === 'on',
    left_out: of.left_out.length > 0,
    low_on_road: onRoad.length > 0,
    alike: onRoad.length === rolling.length && rolling.length > 1 && lacks.length === onRoad.length && spread <= alike,
    one: reads.own!.length === 1,
  }
  const names: Record<string, string[]> = {
    ...Object.fromEntries(Object.entries(reads).map(([key, found]) => [key, found.map((r) => r.name.toLowerCase())])),
    left_out: of.left_out.map(([name]) => name.toLowerCase()),
    why_left_out: of.left_out.map(([name, reason]) => `${name.toLowerCase()} (${reason})`),
  }
  return {
    facts: new Set(Object.keys(facts).filter((f) => facts[f])),
    names,
    codes: Object.fromEntries(Object.entries(reads).map(([key, found]) => [key, found.map((r) => r.code)])),
  }
}

/** The next step by the rows of the core: the first that fits. */
export function next(of: Asked, by: Pick<Carried, 'ways' | 'notes' | 'alike' | 'unread'>) {
  const { facts, names, codes } = known(of, by)
  const words = (way: Way) => {
    const text = way.words.replace('{names}', () => plain((names[way.named] ?? []).join(', ')))
    return { text: text.charAt(0).toUpperCase() + text.slice(1), values: [] }
  }
  const way = by.ways.find((w) => fits(w, facts))!
  const notes = by.notes.filter((n) => fits(n, facts)).map(words)
  return {
    key: way.key,
    words: words(way),
    notes,
    outcome: way.outcome,
    wheels: codes[way.named] ?? [],
    named: way.named,
  }
}

/** The air that it was made for is an old one by now, or was not known: what is read means nothing by it. */
export const isOld = (carried: Carried, now = Date.now()) =>
  carried.outside_c === null || now > Date.parse(carried.until)

/** A step as the server would answer it, from what the phone carries. */
export function stepBy(carried: Carried, now: Answers): Schemas['LampStep'] & { said: Schemas['LampSaid'] | null } {
  const stood = isOld(carried) ? undefined : carried.stood.find((s) => s.hours === now.standing_h)
  const sheets = stood?.decisions ?? []
  const left = new Map(now.left_out.map((o) => [o.wheel, o.reason]))
  const shown: Schemas['LampWheel'][] = []
  const reads: Read[] = []
  for (const w of carried.wheels) {
    const typed = now.readings.find((r) => r.wheel === w.code)?.pressure
    if (typed === undefined && left.has(w.code)) continue
    const said = typed === undefined ? null : decide(sheets, w.code, now.gauge ?? 0, true, typed)
    const here = sheets.find((d) => d.gauge === now.gauge && d.wheels.includes(w.code))?.here_kpa ?? null
    const lacks = said && here !== null && said.cold_kpa !== null ? 1 - said.cold_kpa / here : null
    reads.push({ ...w, word: said?.word ?? 'not_checked', lacks })
    if (said) shown.push({ ...w, word: said.word, words: said.words, shows_kpa: said.shows_kpa })
  }
  const leftOut = carried.wheels.filter((w) => left.has(w.code) && !reads.some((r) => r.code === w.code))
  const step = next(
    {
      ...now,
      reads: now.readings.length ? reads : [],
      left_out: leftOut.map((w) => [w.name, left.get(w.code)!]),
    },
    carried,
  )
  const wheels = step.named === 'left_out' ? leftOut.map((w) => w.code) : step.wheels
  return {
    key: step.key,
    words: step.words,
    notes: step.notes,
    outcome: step.outcome,
    outcome_name: step.outcome ? carried.outcomes[step.outcome]! : '',
    wheels: shown,
    lights: carried.lights,
    looked: carried.looked,
    afters: carried.afters,
    stood: carried.stood,
    said: step.outcome ? { outcome: step.outcome, wheels } : null,
  }
}
