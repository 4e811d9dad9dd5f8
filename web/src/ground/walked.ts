/** A plan as it stands with what waits in the outbox: opened and walked without a network, by the numbers that came as data. */
import type { GroundItem, Unsent } from '@/shared/outbox'
import { pressureOf } from '@/shared/units'
import type { Ground, OpenPlan } from './queries'

type Wheel = OpenPlan['wheels'][number]
type Open = Extract<GroundItem, { open: unknown }>['open']

const nobody = { text: '', values: [] }

/** A plan opened here and not sent yet: its chain with the numbers of the sheet, and the road behind it. */
export function planHere(ground: Ground, open: Open, rig: number): OpenPlan {
  const out = new Set(open.left_out?.map((o) => o.rig))
  const wheels = ground.wheels.filter((w) => !out.has(w.rig))
  const rows = open.chain.map((key) => ground.surfaces.find((s) => s.key === key)!).filter(Boolean)
  if (!rows.at(-1)?.road) rows.push(ground.surfaces[0]!)
  const stretches = rows.map((s) => ({
    ...s,
    numbers: Object.fromEntries(wheels.map((w) => [w.code, w.numbers.find((n) => n.surface === s.key)!.kpa])),
    goals: Object.fromEntries(wheels.map((w) => [w.code, w.numbers.find((n) => n.surface === s.key)!])),
  }))
  return {
    uuid: open.uuid,
    rig,
    opened_at: open.opened_at ?? new Date().toISOString(),
    opened_by: '',
    place: open.place ?? '',
    at: 0,
    stretches,
    words: { text: `Ground plan open: ${stretches[0]!.name}`, values: [] },
    speed_kmh: stretches[0]!.speed_kmh,
    loud: [],
    no_way_back: open.no_way_back ?? false,
    back_words: nobody,
    recovery_reason: open.recovery_reason ?? '',
    may_undo: false,
    why_open: [],
    wheels: wheels.map((w) => ({
      code: w.code,
      name: w.name,
      kpa: 0,
      lets_out: true,
      waiting: true,
      stands_on: -1,
      beside: null,
      done: null,
      words: null,
    })),
    gauge: ground.gauge,
  }
}

/** The wheels at the stretch in hand: what is to be done, and what was done last. */
function wheelsAt(plan: OpenPlan): Wheel[] {
  const here = plan.stretches[plan.at]!
  const road = plan.stretches.at(-1)!
  return plan.wheels.map((w) => {
    const stands = w.stands_on < 0 ? road : plan.stretches[w.stands_on]!
    const kpa = here.numbers[w.code]!
    const was = stands.numbers[w.code]!
    const gone = w.done !== null && ['replaced', 'unreadable'].includes(w.done.done)
    const handled = gone || (w.done?.step === plan.at && w.done !== null) || Math.abs(kpa - was) < 1e-6
    return { ...w, kpa, lets_out: kpa < was - 1e-6, waiting: !handled }
  })
}

/** The open plan with what is on its way laid over it; null: none is open. */
export function asWalked(ground: Ground, rig: number, waiting: Unsent[]): OpenPlan | null {
  const mine = waiting.filter((u) => u.ground?.rig === rig && !u.refused)
  if (!mine.length) return ground.open
  const opened = mine.map((u) => u.ground!).find((g) => 'open' in g)
  let plan = ground.open ?? (opened && 'open' in opened ? planHere(ground, opened.open, rig) : null)
  if (!plan) return null
  for (const item of mine) {
    const g = item.ground!
    if ('step' in g) plan = { ...plan, at: Math.min(g.step.step, plan.stretches.length - 1) }
    if ('entry' in g) {
      const done = {
        uuid: item.uuid,
        wheel: g.entry.wheel,
        step: g.entry.step,
        done: g.entry.done ?? 'set',
        typed: String(g.entry.pressure ?? ''),
        kpa: pressureOf(g.entry.pressure ?? null),
        minutes: null,
        reason: g.entry.reason ?? '',
        by: '',
        by_id: 0,
        done_at: g.entry.done_at ?? new Date(item.at).toISOString(),
      }
      // Passed by, it stands where it stood.
      const stands = done.done === 'set' ? { stands_on: done.step } : {}
      plan = {
        ...plan,
        wheels: plan.wheels.map((w) =>
          w.code === g.entry.wheel ? { ...w, ...stands, done, words: null, beside: null } : w,
        ),
      }
    }
  }
  const softest = plan.wheels.filter((w) => w.stands_on >= 0).map((w) => plan.stretches[w.stands_on]!)
  const speeds = [plan.stretches[plan.at]!, ...softest].map((s) => s.speed_kmh).filter((v): v is number => v !== null)
  return { ...plan, wheels: wheelsAt(plan), speed_kmh: speeds.length ? Math.min(...speeds) : null, may_undo: false }
}
