/** The value of a ticket's form: what stands over it, and its axles where it is typed axle by axle. */
import type { Sheet } from '@/rigs/queries'
import type { Schemas } from '@/shared/api/client'
import { today, type Entry } from '@/shared/units'

export type Way = Schemas['LoadsIn']['way']

export const blankAxles = (count: number) =>
  Array.from({ length: count }, () => ({
    whole_kg: null as Entry,
    left_kg: null as Entry,
    right_kg: null as Entry,
    lifted: false,
  }))
export const ticketForm = (sheet: Sheet) => ({
  load_state: sheet.weighing?.load_state ?? 'trip-ready',
  weighed_on: today(),
  scale: sheet.weighing?.scale ?? '',
  // By a simulated scale: it stays so until the form starts afresh.
  made_up: false,
  resolution_kg: (sheet.weighing?.resolution_kg ?? null) as Entry,
  odometer: null as Entry,
  bars: '' as Schemas['LoadsIn']['bars'],
  hitch_kg: null as Entry,
  way: 'ticket' as Way,
  with_trailers: false,
  ready: [] as string[],
  note: '',
  amends: null as number | null,
  axles: blankAxles(sheet.rig.axles.length),
})
export type TicketForm = ReturnType<typeof ticketForm>

/** The wheels of the plan at spots of a ticket: “1:2L” is axle 2, left, of the second vehicle. */
export function wheelsAt(train: Sheet['train'], on: string[]): string[] {
  return on.flatMap((spot) => {
    const [vehicle, rest] = spot.split(':') as [string, string]
    const wheels = train[Number(vehicle)]?.wheels ?? []
    return wheels.filter((w) => w.axle === Number(rest[0]) && w.side === rest[1]).map((w) => w.code)
  })
}
