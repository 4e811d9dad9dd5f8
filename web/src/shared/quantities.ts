/**
 * The one reader of quantities as typed on the page: to draw with, and without a network. It reads what the core's reader reads,
 * held against the cases that the core writes (`tests/page.json`).
 */
import type { Schemas } from './api/client'

export type Kind = Schemas['Measure']['kind']
export type Unit = Pick<Schemas['UnitOut'], 'symbol' | 'kind' | 'factor' | 'offset' | 'also'>
/** What an entry holds: a canonical number that was not touched, words as typed, or nothing. */
export type Entry = number | string | null

const NUMBER = /^([+-]?)((?:\d[\d, ]*)?(?:\.\d*)?)$/
const QUANTITY = /^\s*([+-]?\s*[\d.,'\s]*\d[\d.,]*)\s*([^\d\s].*)?$/
const ordinary = (text: string) => text.replace(/[\u2212\u2013]/g, '-').replace(/[\u00a0\u202f]/g, ' ')

/** A number as people write it; a comma before exactly three digits groups thousands, otherwise it is a decimal comma. */
export function number(text: string): number | null {
  let raw = ordinary(text.trim()).replaceAll('- ', '-')
  if (raw.includes(',') && !raw.includes('.')) {
    const at = raw.lastIndexOf(',')
    const [head, tail] = [raw.slice(0, at), raw.slice(at + 1)]
    const grouped = tail.length === 3 && !['', '0'].includes(head.replace(/^[+-]+/, ''))
    if (!grouped && !head.includes(',')) raw = `${head}.${tail}`
  }
  const match = NUMBER.exec(raw)
  if (!match || !/\d/.test(raw)) return null
  const value = Number(match[1] + match[2]!.replace(/[, ]/g, ''))
  return Number.isFinite(value) ? value : null
}

/** A typed quantity in the canonical unit of its kind, a bare number in `unit`; null where it cannot be read. */
export function quantity(kind: Kind, entry: Entry, units: Unit[], unit: string): number | null {
  if (typeof entry !== 'string') return entry
  const match = QUANTITY.exec(ordinary(entry))
  const value = match && number(match[1]!)
  if (!match || value === null) return null
  const name = (match[2] ?? unit).trim().toLowerCase()
  const named = units.find((u) => u.symbol.toLowerCase() === name || u.also.includes(name))
  return named?.kind === kind ? (value + named.offset) * named.factor : null
}
