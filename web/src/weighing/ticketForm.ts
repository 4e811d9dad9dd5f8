/** The value of a ticket's form: what stands over it, and its axles where it is typed axle by axle. */
import type { Sheet } from '@/rigs/queries'
import type { Schemas } from '@/shared/api/client'
import { today, type Entry } from '@/shared/units'

export type Way = Schemas['LoadsIn']['way']

interface AxleRow {
  whole_kg: Entry
  left_kg: Entry
  right_kg: Entry
  lifted: boolean
}
/** The rows of one vehicle; `together` are axles that the ticket may print as one number. */
export interface RowsForm {
  axles: AxleRow[]
  together: { name: string; axles: number[]; kg: Entry }[]
}
const named = (name: string) => name[0]!.toUpperCase() + name.slice(1)
export const blankRows = (vehicle: Sheet['train'][number]): RowsForm => ({
  axles: vehicle.axles.map(() => ({ whole_kg: null, left_kg: null, right_kg: null, lifted: false })),
  together: vehicle.together.map((g) => ({ name: named(g.name), axles: g.numbers, kg: null })),
})
/** Whether an axle is weighed with others as one number. */
export const asOne = (rows: RowsForm, number: number) =>
  rows.together.some((g) => g.kg !== null && g.axles.includes(number))
export const anyRow = (rows: RowsForm) =>
  rows.together.some((g) => g.kg !== null) ||
  rows.axles.some((a) => a.whole_kg !== null || a.left_kg !== null || a.right_kg !== null || a.lifted)
/** What is sent of them: an axle that is weighed with others has no row of its own. */
export const rowsBody = (rows: RowsForm): Schemas['RowsIn'] => ({
  axles: rows.axles.map((a, i) =>
    asOne(rows, i + 1) ? { whole_kg: null, left_kg: null, right_kg: null, lifted: false } : { ...a },
  ),
  together: rows.together.flatMap((g) => (g.kg === null ? [] : [{ axles: g.axles, kg: g.kg }])),
})
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
  gross_kg: null as Entry,
  /** The vehicles of the combination from the front, or the rig alone. */
  rows: (sheet.rig.head === null ? sheet.train : sheet.train.filter((v) => v.id === sheet.rig.id)).map(blankRows),
})
export type TicketForm = ReturnType<typeof ticketForm>

/** A stored ticket back in the form, to be amended; what was hitched keeps its own part. */
export function amendment(sheet: Sheet, w: Schemas['WeighingOut']): TicketForm {
  const form = ticketForm(sheet)
  const [own] = form.rows as [RowsForm]
  own.axles = own.axles.map((_, i) => ({
    whole_kg: w.typed[i]?.whole_kg ?? null,
    left_kg: w.typed[i]?.left_kg ?? null,
    right_kg: w.typed[i]?.right_kg ?? null,
    lifted: w.lifted[i] ?? false,
  }))
  for (const g of own.together) g.kg = w.together.find((t) => String(t.axles) === String(g.axles))?.typed ?? null
  return {
    ...form,
    load_state: w.load_state,
    weighed_on: w.weighed_on,
    scale: w.scale,
    made_up: w.made_up,
    resolution_kg: w.resolution_kg,
    odometer: w.odometer_km,
    bars: w.bars as TicketForm['bars'],
    hitch_kg: w.hitch_typed || null,
    gross_kg: (!w.hitched && w.gross_typed) || null,
    ready: [...w.ready],
    note: w.note,
    amends: w.id,
  }
}

/** The wheels of the plan at spots of a ticket: “1:2L” is axle 2, left, of the second vehicle. */
export function wheelsAt(train: Sheet['train'], on: string[]): string[] {
  return on.flatMap((spot) => {
    const [vehicle, rest] = spot.split(':') as [string, string]
    const wheels = train[Number(vehicle)]?.wheels ?? []
    return wheels.filter((w) => w.axle === Number(rest[0]) && w.side === rest[1]).map((w) => w.code)
  })
}
