/** Shows canonical values in the person's units. The unit table comes from the server with the session. */
import { ref } from 'vue'
import type { Schemas } from './api/client'
import { quantity, type Entry, type Kind } from './quantities'

export type { Entry, Kind }

/** One of the two that are switched by one press, or what each quantity is shown in. */
export type System = string
export type Toward = Schemas['Measure']['toward']
type Unit = Schemas['UnitOut']

const table = ref<Record<string, Unit>>({})
const shown = ref<Record<string, Record<string, string>>>({})
export const system = ref<System>('us')

export function takeUnits(session: Schemas['SessionOut']): void {
  table.value = Object.fromEntries(session.unit_table.map((u) => [u.symbol, u]))
  shown.value = session.shown
  system.value = session.units
}

export function unitOf(kind: Kind): string {
  return shown.value[system.value]?.[kind] ?? ''
}

/** A half goes to the even digit, as the core rounds. Made once for each number of digits: a page full of figures waits for it. */
const formats = new Map<number, Intl.NumberFormat>()
function formatOf(decimals: number): Intl.NumberFormat {
  const halfEven = { roundingMode: 'halfEven' } as Intl.NumberFormatOptions
  const format =
    formats.get(decimals) ?? new Intl.NumberFormat('en-US', { maximumFractionDigits: decimals, ...halfEven })
  formats.set(decimals, format)
  return format
}

function digits(value: number, decimals: number, toward: Toward): string {
  const scale = 10 ** decimals
  // The small term keeps 689.9999999 from falling, and 690.0000001 from climbing, a step.
  if (toward === 'up') value = Math.ceil(value * scale - 1e-6) / scale
  if (toward === 'down') value = Math.floor(value * scale + 1e-6) / scale
  const text = formatOf(decimals).format(value)
  return text === '-0' ? '0' : text.replace('-', '\u2212')
}

/** The figure alone, without its unit. */
export function figure(kind: Kind, value: number, toward: Toward = 'nearest', finer = 0): string {
  if (kind === 'share') return digits(value * 100, 1 + finer, toward)
  if (kind === 'number') return digits(value, 2, toward)
  const unit = table.value[unitOf(kind)]
  if (!unit) return ''
  // Long lengths are elevations, not parts of a rig.
  const decimals = kind === 'length' && Math.abs(value) >= 50 ? 0 : Math.max(0, unit.decimals + finer)
  return digits(value / unit.factor - unit.offset, decimals, toward)
}

/** With a digit less, where there is little room: psi and kPa to the whole, bar to a tenth. */
export const coarse = (kind: Kind, value: number, toward: Toward = 'nearest') => figure(kind, value, toward, -1)

export function show(kind: Kind, value: number, toward: Toward = 'nearest'): string {
  if (kind === 'number') return figure(kind, value, toward)
  return `${figure(kind, value, toward)} ${kind === 'share' ? '%' : unitOf(kind)}`
}

/** To the whole unit: elevations, say. */
export function showWhole(kind: Kind, value: number): string {
  const unit = table.value[unitOf(kind)]
  return unit ? `${digits(value / unit.factor - unit.offset, 0, 'nearest')} ${unitOf(kind)}` : ''
}

/** As `core.working.toward`, held against its cases: up, but never past the shown bound above it (1 kPa is the coarsest step). */
export const toward = (kpa: number, bound: number | null): Toward => (bound !== null && kpa > bound - 1 ? 'down' : 'up')

export function say(phrase: Schemas['Phrase']): string {
  return phrase.text.replace(/\{(\d+)\}/g, (_, i: string) => {
    const measure = phrase.values[Number(i)]
    return measure ? show(measure.kind, measure.value, measure.toward) : ''
  })
}

/** An answer short enough for the plan: its unit stands in the top bar. */
export function shortly(answer: Pick<Schemas['AnswerOut'], 'word' | 'change_kpa'>): string {
  const amount = answer.change_kpa === null ? '' : figure('pressure', Math.abs(answer.change_kpa), 'up')
  const short = {
    stop: 'Stop',
    add: `Add ${amount}`,
    let_out: `Out ${amount}`,
    hold: 'Hold',
    cannot_tell: 'Cannot tell',
    not_checked: 'Open',
  }
  return short[answer.word]
}

const BARE = /^[+\-\u2212]?[\d.,\s]+$/

/** What was typed, with the person's unit spelled out where none was, so that a later switch of units cannot change it. */
export function spelled(kind: Kind, text: string): string | null {
  const trimmed = text.trim()
  if (!trimmed) return null
  return BARE.test(trimmed) ? `${trimmed} ${unitOf(kind)}` : trimmed
}

/** An entry as it stands in its field: finer than shown elsewhere, the person's unit left out. */
export function inField(kind: Kind, entry: Entry, whole = false): string {
  if (entry === null || entry === undefined) return ''
  if (typeof entry === 'number' && whole) return showWhole(kind, entry).split(' ')[0]!
  if (typeof entry === 'number') return figure(kind, entry, 'nearest', kind === 'pressure' ? 1 : 0)
  const tail = ` ${unitOf(kind)}`
  return entry.endsWith(tail) ? entry.slice(0, -tail.length) : entry
}

/** Tread is told in millimeters, or in 32nds of an inch where inches are used. */
const inInches = () => unitOf('length') === 'ft'
export const treadUnit = () => (inInches() ? '32nds of an inch' : 'mm')
export const depthIn = (mm: number): number => (inInches() ? (mm / 25.4) * 32 : mm)
/** The figure alone: in whole 32nds, or to a tenth of a millimeter. */
export const depthFigure = (mm: number): string => digits(depthIn(mm), inInches() ? 0 : 1, 'nearest')
export const depthShown = (mm: number): string => `${depthFigure(mm)}${inInches() ? '/32 in' : ' mm'}`
/** What a tread loses [mm per 1,000 km], over a thousand of the person's own distance. */
export const rateShown = (mm: number): string => {
  const own = table.value[unitOf('distance')]?.factor ?? 1
  return `${digits(depthIn(mm) * own, 2, 'nearest')}${inInches() ? '/32 in' : ' mm'} a thousand ${unitOf('distance')}`
}

export const today = (): string => new Date().toLocaleDateString('en-CA')

/** A date as people say it; of a moment, the day it was here. */
export function spokenDay(iso: string): string {
  return new Date(iso.length === 10 ? `${iso}T12:00` : iso).toLocaleDateString('en-US', {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
  })
}

/** The time of day of a moment here. */
export const clock = (iso: string): string =>
  new Date(iso).toLocaleTimeString('en-US', { hour: 'numeric', minute: '2-digit' })

/** A moment as people say it here: its day and its time of day. */
export const moment = (iso: string): string => `${spokenDay(iso)}, ${clock(iso)}`

/** A stretch of days, as people say it. */
export const spokenDays = (days: number): string => (days === 1 ? 'a day' : `${days} days`)

/** What is typed, to draw with or without a network: see `quantities`. */
const read = (kind: Kind, entry: Entry) => quantity(kind, entry, Object.values(table.value), unitOf(kind))
export const metersOf = (entry: Entry) => read('length', entry)
export const pressureOf = (entry: Entry) => read('pressure', entry)

/** A plain number, to a tenth. */
export const tenths = (value: number): string => digits(value, 1, 'nearest')

/** A difference with its sign; what rounds to nothing has none. */
export function signed(kind: Kind, value: number): string {
  const text = figure(kind, value)
  return value > 0 && text !== '0' ? `+${text}` : text
}

/** A difference with its sign and unit. */
export const signedAmount = (kind: Kind, value: number): string => `${signed(kind, value)} ${unitOf(kind)}`
