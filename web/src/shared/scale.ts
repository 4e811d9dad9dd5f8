import { coarse } from './units'
import type { Word } from './words'

/** Where a pressure lies on a band, 0 to 1. One scale for cells, rows and full bands. */
export interface Limits {
  floor: number | null
  target: number | null
  ceiling: number | null
}

export interface Scale {
  low: number
  high: number
  at: (kpa: number) => number
}

export function scaleOf(limits: Limits, others: number[] = []): Scale {
  const known = [limits.floor, limits.target, limits.ceiling, ...others].filter((v): v is number => v !== null)
  const base = limits.floor ?? limits.target ?? Math.min(...known)
  const top = Math.max(limits.ceiling ?? (limits.target ?? base) * 1.2, ...others)
  const low = known.length ? Math.min(base * 0.72, ...others.map((v) => v * 0.97)) : 0
  const high = known.length ? top + (top - low) * 0.12 : 1
  return { low, high, at: (kpa) => Math.min(1, Math.max(0, (kpa - low) / (high - low))) }
}

/** What a wheel of the plan shows. */
export interface WheelState {
  floor: number | null
  target: number | null
  ceiling: number | null
  level: number | null
  word: Word
  words: string
  change?: number | null
  estimate?: boolean
  /** Shown in place of a pressure: a load, say. */
  text?: string
}

/** A wheel of which nothing is known. */
export const BLANK_WHEEL: WheelState = {
  floor: null,
  target: null,
  ceiling: null,
  level: null,
  word: 'not_checked',
  words: '',
}

/** The figure in a wheel: its pressure with a digit less, or what stands in its place. */
export function figureIn(state: WheelState): string {
  return state.text ?? (state.level === null ? '' : coarse('pressure', state.level))
}
