/** The value of a rig's form: what its fields hold, filled from a stored rig, and what is sent. */
import type { Schemas } from '@/shared/api/client'
import type { Entry } from '@/shared/units'

export interface TireForm {
  tire_size: string
  tire_make: string
  load_index_single: string
  load_index_dual: string
  load_range: string
  max_load_single_kg: Entry
  max_load_dual_kg: Entry
  sidewall_max_kpa: Entry
  wheel_max_kpa: Entry
  wheel_max_load_kg: Entry
  rim_width_in: string
  rim_low_in: string
  rim_high_in: string
}
export type AxleForm = TireForm & {
  position_m: Entry
  track_m: Entry
  wheels: 1 | 2 | 4
  role: Schemas['AxleOut']['role']
  lift: boolean
  share: string
  gawr_kg: Entry
  placard_kpa: Entry
  placard_light_kpa: Entry
  placard_size: string
  lamp_kpa: Entry
}
export type SpareForm = TireForm & { required_kpa: Entry }

const tire = (): TireForm => ({
  tire_size: '',
  tire_make: '',
  load_index_single: '',
  load_index_dual: '',
  load_range: '',
  max_load_single_kg: null,
  max_load_dual_kg: null,
  sidewall_max_kpa: null,
  wheel_max_kpa: null,
  wheel_max_load_kg: null,
  rim_width_in: '',
  rim_low_in: '',
  rim_high_in: '',
})
const axle = (wheels: AxleForm['wheels']): AxleForm => ({
  ...tire(),
  // Nobody measured it: it is drawn as usual.
  position_m: null,
  track_m: null,
  wheels,
  role: '',
  lift: false,
  share: '',
  gawr_kg: null,
  placard_kpa: null,
  placard_light_kpa: null,
  placard_size: '',
  lamp_kpa: null,
})
export const spare = (): SpareForm => ({ ...tire(), required_kpa: null })

/** The axles that a kind usually has, to be confirmed. */
export const outline = (kind: Schemas['KindOut'] | undefined) =>
  (kind?.outline ?? [{ wheels: 2 }]).map((a) => axle(a.wheels as AxleForm['wheels']))

export const blankRig = (kind?: Schemas['KindOut']) => ({
  /** What it was filled from: somebody may change it meanwhile. */
  version: '',
  kind: 'coach' as Schemas['RigIn']['kind'],
  name: '',
  fleet_number: '',
  gvwr_kg: null as Entry,
  gcwr_kg: null as Entry,
  hitch_max_kg: null as Entry,
  cargo_kg: null as Entry,
  wheelbase_m: null as Entry,
  hitch_m: null as Entry,
  coupler_m: null as Entry,
  top_speed_kmh: null as Entry,
  replace_years: '',
  checklist: '',
  note: '',
  axles: outline(kind),
  spares: [] as SpareForm[],
})
export type RigValue = ReturnType<typeof blankRig>

const written = (value: number | null) => (value === null ? '' : String(value))
const storedTire = (t: Schemas['AxleOut'] | Schemas['SpareOut']): TireForm => ({
  tire_size: t.tire_size,
  tire_make: t.tire_make,
  load_index_single: written(t.load_index_single),
  load_index_dual: written(t.load_index_dual),
  load_range: t.load_range,
  max_load_single_kg: t.max_load_single_kg,
  max_load_dual_kg: t.max_load_dual_kg,
  sidewall_max_kpa: t.sidewall_max_kpa,
  wheel_max_kpa: t.wheel_max_kpa,
  wheel_max_load_kg: t.wheel_max_load_kg,
  rim_width_in: written(t.rim_width_in),
  rim_low_in: written(t.rim_low_in),
  rim_high_in: written(t.rim_high_in),
})

/** The form of a stored rig; a copy gets a name and a number of its own. */
export const rigValue = (rig: Schemas['RigOut'], copy: boolean): RigValue => ({
  version: copy ? '' : rig.version,
  kind: rig.kind,
  // A copy gets a name and a number of its own.
  name: copy ? '' : rig.name,
  fleet_number: copy ? '' : rig.fleet_number,
  gvwr_kg: rig.gvwr_kg,
  gcwr_kg: rig.gcwr_kg,
  hitch_max_kg: rig.hitch_max_kg,
  cargo_kg: rig.cargo_kg,
  wheelbase_m: rig.wheelbase_m,
  hitch_m: rig.hitch_m,
  coupler_m: rig.coupler_m,
  top_speed_kmh: rig.top_speed_kmh,
  replace_years: written(rig.replace_years),
  checklist: rig.checklist.join('\n'),
  note: rig.note,
  axles: rig.axles.map((a) => ({
    ...storedTire(a),
    position_m: a.position_m,
    track_m: a.track_m,
    wheels: a.wheels,
    role: a.role,
    lift: a.lift,
    share: written(a.share),
    gawr_kg: a.gawr_kg,
    placard_kpa: a.placard_kpa,
    placard_light_kpa: a.placard_light_kpa,
    placard_size: a.placard_size,
    lamp_kpa: a.lamp_kpa,
  })),
  spares: rig.spares.map((s) => ({ ...storedTire(s), required_kpa: s.required_kpa })),
})

/** The tire of an axle, to be put on another. */
export function tireOf(axle: AxleForm): TireForm {
  const keys = Object.keys(tire()) as (keyof TireForm)[]
  return Object.fromEntries(keys.map((key) => [key, axle[key]])) as unknown as TireForm
}

/** What was read of a size, in a line. */
export const understood = (size?: Schemas['SizeRead']) =>
  size &&
  [size.words, size.asked_for.length ? `still asked for: ${size.asked_for.join(', ')}` : ''].filter(Boolean).join('; ')

/** What was typed of a number; nothing where nothing was. */
const given = (text: string) => text.trim() || null
const tireBody = (t: TireForm) => ({
  ...t,
  load_index_single: given(t.load_index_single),
  load_index_dual: given(t.load_index_dual),
  rim_width_in: given(t.rim_width_in),
  rim_low_in: given(t.rim_low_in),
  rim_high_in: given(t.rim_high_in),
})

/** What is sent: as typed, the server reads it. */
export const rigBody = (form: RigValue, trailer: boolean, newer = ''): Schemas['RigIn'] => ({
  ...form,
  version: newer || form.version,
  gcwr_kg: trailer ? null : form.gcwr_kg,
  replace_years: given(form.replace_years),
  checklist: form.checklist
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean),
  axles: form.axles.map((a) => ({
    ...a,
    ...tireBody(a),
    dual: a.wheels === 4,
    share: given(a.share),
  })),
  spares: form.spares.map((s) => ({ ...s, ...tireBody(s) })),
})
