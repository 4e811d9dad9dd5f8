/** A plan opened and walked without a network, against what the core says of the same one. */
import { describe, expect, test } from 'vitest'
import type { Ground } from '@/ground/queries'
import { asWalked } from '@/ground/walked'
import type { Schemas } from '@/shared/api/client'
import type { GroundItem, Unsent } from '@/shared/outbox'
import { takeUnits } from '@/shared/units'
import stored from '../../tests/page.json'

interface Stands {
  done: number
  at: number
  waiting: string[]
  lets_out: Record<string, boolean>
  speed_kmh: number | null
}
const { surfaces, wheels, walked, stands } = stored.walks as unknown as {
  surfaces: Ground['surfaces']
  wheels: Ground['wheels']
  walked: [string, number, Schemas['EntryOut']['done']][]
  stands: Stands[]
}
const ground = { surfaces, wheels, open: null, gauge: 1 } as unknown as Ground
const PLAN = '9b8f2c1e-0000-4000-8000-000000000000'
const item = (of: object): Unsent =>
  ({
    uuid: '',
    round: 0,
    rig: '',
    owner: null,
    at: 0,
    refused: '',
    ground: { plan: PLAN, rig: 1, ...of } as GroundItem,
  }) as Unsent

const open = { uuid: PLAN, chain: ['gravel', 'soft'], left_out: [] }
const entry = ([wheel, step, done]: (typeof walked)[number]) =>
  item({ entry: { wheel, step, done, pressure: '100 kPa' } })

takeUnits({ units: 'metric', unit_table: stored.units, shown: stored.shown_in.metric } as never)

describe('A plan without a network', () => {
  test.each(stands)('after $done done, at stretch $at', ({ done, at, waiting, lets_out, speed_kmh }) => {
    const sent = [item({ open }), ...walked.slice(0, done).map(entry), item({ step: { step: at } })]
    const plan = asWalked(ground, 1, sent)!
    expect(plan.stretches.map((s) => s.key)).toEqual(['gravel', 'soft', 'highway'])
    expect(plan.wheels.filter((w) => w.waiting).map((w) => w.code)).toEqual(waiting)
    expect(Object.fromEntries(plan.wheels.map((w) => [w.code, w.lets_out]))).toEqual(lets_out)
    expect(plan.speed_kmh).toBe(speed_kmh)
  })

  test('a vehicle that stays as it is has no wheels in it, and nothing waiting is no plan', () => {
    const alone = asWalked(ground, 1, [item({ open: { ...open, left_out: [{ rig: 2, reason: 'it stays' }] } })])!
    expect(alone.wheels.map((w) => w.code)).toEqual(['1L'])
    expect(asWalked(ground, 1, [])).toBeNull()
    expect(asWalked(ground, 2, [item({ open })])).toBeNull()
  })
})
