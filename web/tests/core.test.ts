/** What the page must decide without a network, against the cases that the core writes. */
import { beforeEach, describe, expect, test, vi } from 'vitest'
import { decide } from '@/shared/decide'
import type { Schemas } from '@/shared/api/client'
import { next, stepBy, type Answers, type Asked, type Carried } from '@/sensors/guided'
import { quantity, type Kind } from '@/shared/quantities'
import stored from '../../tests/page.json'
import { figure, show, system, takeUnits, toward, type System, type Toward } from '@/shared/units'

interface Answered {
  reading_kpa: number
  word: string
  text: string
  cold_kpa: number
  uncertainty_kpa: number
  change_kpa: number | null
  fill_kpa: number | null
  shows_kpa: number | null
  locked: boolean
  asks_for_air: boolean
  stops_mate: boolean
}
interface Cases {
  units: Schemas['UnitOut'][]
  shown_in: Record<string, Record<string, string>>
  quantities: { kind: Kind; typed: string; unit: string; value: number | null }[]
  shown: { kind: Kind; value: number; system: System; toward: Toward; text: string }[]
  toward: { kpa: number; bound: number | null; toward: Toward }[]
  words: { word: string; asks_for_air: boolean }[]
  guide: Pick<Carried, 'ways' | 'notes' | 'alike' | 'unread'> & {
    steps: { asked: Asked; key: string; text: string; notes: string[]; outcome: string | null }[]
  }
  decisions: { name: string; decision: Schemas['DecisionOut']; answers: Answered[] }[]
}
const cases = stored as unknown as Cases

beforeEach(() =>
  takeUnits({
    unit_table: cases.units,
    shown: cases.shown_in,
    units: 'metric',
  } as unknown as Schemas['SessionOut']),
)

describe('a quantity as typed', () => {
  test.each(cases.quantities)('$kind “$typed” in $unit is $value', ({ kind, typed, unit, value }) => {
    const read = quantity(kind, typed, cases.units, unit)
    if (value === null) expect(read).toBeNull()
    else expect(read).toBeCloseTo(value, 6)
  })
  test('a number that was not touched is canonical, nothing is nothing', () => {
    expect(quantity('pressure', 640, cases.units, 'psi')).toBe(640)
    expect(quantity('pressure', null, cases.units, 'psi')).toBeNull()
  })
})

describe('a value as shown', () => {
  test.each(cases.shown)('$kind $value $toward in $system is $text', (c) => {
    system.value = c.system
    expect(show(c.kind, c.value, c.toward)).toBe(c.text)
  })
  test.each(cases.toward)('$kpa under $bound is rounded $toward', (c) => {
    expect(toward(c.kpa, c.bound)).toBe(c.toward)
  })
  test('figures and units agree', () => expect(`${figure('mass', 3150.4)} kg`).toBe(show('mass', 3150.4)))
})

describe('an answer by the sheets', () => {
  const each = cases.decisions.flatMap((d) => d.answers.map((a) => ({ ...a, name: d.name, of: d.decision })))
  test.each(each)('$name, rolled $of.rolled: $reading_kpa is $word', ({ of, ...a }) => {
    const said = decide([of], '2Li', 1, of.rolled, `${a.reading_kpa} kPa`)!
    expect([said.word, said.words.text, said.locked, said.asks_for_air, said.stops_mate]).toEqual([
      a.word,
      a.text,
      a.locked,
      a.asks_for_air,
      a.stops_mate,
    ])
    expect(said.cold_kpa).toBeCloseTo(a.cold_kpa, 1)
    expect(said.uncertainty_kpa).toBeCloseTo(a.uncertainty_kpa, 1)
    for (const name of ['change_kpa', 'fill_kpa', 'shows_kpa'] as const) {
      if (a[name] === null) expect(said[name] ?? null).toBeNull()
      else expect(Math.abs(said[name]! - a[name])).toBeLessThan(0.15)
    }
  })
  test('what the sheets do not hold is pending, never guessed', () => {
    const of = cases.decisions[0]!.decision
    expect(decide([of], '1L', 1, true, '600 kPa')).toBeNull()
    expect(decide([of], '2Li', 2, true, '600 kPa')).toBeNull()
    expect(decide([of], '2Li', 1, true, '1,500 kPa')).toBeNull()
    expect(decide([of], '2Li', 1, true, '90 kg')).toBeNull()
    expect(decide([], '2Li', 1, true, '600 kPa')).toBeNull()
  })
  test('a thousand and fifty is no stop: it is outside of this gauge, and pending', () => {
    const of = cases.decisions[0]!.decision
    expect(decide([of], '2Li', 1, true, '1,050')).toBeNull()
    expect(decide([of], '2Li', 1, true, '1,030')?.word).toBe('let_out')
  })
})

describe('the lamp’s way', () => {
  const { steps, ...by } = cases.guide
  test('leads everywhere where the core’s leads', () => {
    const led = steps.map(({ asked }) => next(asked, by))
    expect(led.map((s) => [s.key, s.outcome, s.words.text, s.notes.map((n) => n.text)])).toEqual(
      steps.map((s) => [s.key, s.outcome, s.text, s.notes]),
    )
    expect(new Set(steps.map((s) => s.outcome)).size).toBe(8)
  })
  test('in air that is an old one by now a reading means nothing', () => {
    const { decision } = cases.decisions.find((d) => d.name === 'cold' && d.decision.rolled)!
    const carried = {
      ...cases.guide,
      outside_c: 5,
      until: '2026-11-28T12:00:00Z',
      outcomes: { stop: 'Stopped for a tire' },
      wheels: [{ code: '2Li', name: 'Rear left, inner', spare: false }],
      stood: [{ hours: 0, name: 'Just off the road', decisions: [decision] }],
    } as unknown as Carried
    const answers = {
      light: 'solid',
      which: '?',
      seen: 'nothing',
      gauge: 1,
      standing_h: 0,
      left_out: [],
      aired: false,
      after: null,
    }
    const read = { ...answers, readings: [{ wheel: '2Li', pressure: '300 kPa' }] } as unknown as Answers
    vi.useFakeTimers({ now: new Date('2026-11-28T11:59:00Z') })
    expect(stepBy(carried, read)).toMatchObject({ outcome: 'stop', said: { outcome: 'stop', wheels: ['2Li'] } })
    vi.setSystemTime(new Date('2026-11-28T12:01:00Z'))
    expect(stepBy(carried, read)).toMatchObject({ key: 'read', outcome: null, wheels: [] })
    vi.useRealTimers()
  })
})
