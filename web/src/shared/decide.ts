/** Answers without a network: looked up on the decision sheets that the server made when it could be reached. */
import type { Schemas } from '@/shared/api/client'
import { pressureOf, type Entry } from '@/shared/units'

type Decision = Schemas['DecisionOut']
/** An answer by the sheets; `stops_mate`: the other of its duals is stopped with it. */
export type Answered = Schemas['AnswerOut'] & { stops_mate?: boolean }

/** The answer for a reading as typed; null where the sheets cannot decide it: it is pending then. */
export function decide(
  sheets: Decision[],
  wheel: string,
  gauge: number,
  rolled: boolean,
  entry: Entry,
): Answered | null {
  const kpa = pressureOf(entry)
  const sheet = sheets.find((d) => d.gauge === gauge && d.rolled === rolled && d.wheels.includes(wheel))
  if (kpa === null || !sheet || kpa < sheet.low_kpa || kpa > sheet.high_kpa) return null
  const stretch = sheet.stretches.findLast((s) => s.from_kpa <= kpa)
  if (!stretch) return null
  const high = sheet.knots.findIndex((k) => k.reading_kpa >= kpa)
  const [b, a] = [sheet.knots[Math.max(0, high)]!, sheet.knots[Math.max(0, high - 1)]!]
  const span = b.reading_kpa - a.reading_kpa
  const share = span > 0 ? (kpa - a.reading_kpa) / span : 0
  const between = (from: number, to: number) => from + (to - from) * share
  const fill = a.fill_kpa !== null && b.fill_kpa !== null ? between(a.fill_kpa, b.fill_kpa) : (a.fill_kpa ?? b.fill_kpa)
  const change = fill === null ? null : fill - between(a.true_kpa, b.true_kpa)
  const shows =
    a.shows_kpa !== null && b.shows_kpa !== null ? between(a.shows_kpa, b.shows_kpa) : (a.shows_kpa ?? b.shows_kpa)
  const values =
    stretch.changes && change !== null
      ? [
          {
            kind: 'pressure' as const,
            value: Math.abs(change),
            toward: change > 0 ? ('up' as const) : ('nearest' as const),
          },
        ]
      : []
  return {
    word: stretch.word,
    words: { text: stretch.words.text, values: stretch.changes ? values : stretch.words.values },
    cold_kpa: between(a.cold_kpa, b.cold_kpa),
    uncertainty_kpa: between(a.uncertainty_kpa, b.uncertainty_kpa),
    estimate: sheet.estimate,
    change_kpa: change,
    fill_kpa: fill,
    shows_kpa: shows,
    locked: stretch.locked,
    asks_for_air: stretch.asks_for_air,
    stops_mate: stretch.stops_mate,
    notes: stretch.notes,
    working: [],
  }
}
