/** The places of a rig where something is read, in the order in which one walks around it, and what is asked at each. */
import { computed, type Ref } from 'vue'
import { entriesOf, type EntrySpec } from '@/shared/entries'
import { pairs, useSession } from '@/shared/session'
import { understood, type AxleForm, type RigValue, type SpareForm } from './rigForm'
import type { useRigForm } from './useRigForm'

/** Entries of one value: the rig itself, or one of its axles or spares ("axles.1"). */
export interface Part {
  under: string
  heading: string
  value: object
  entries: EntrySpec[]
  /** What few need: open where anything of it is known. */
  seldom?: EntrySpec[]
}
export interface Place {
  key: string
  name: string
  says: string
  parts: Part[]
  /** Something was read there. */
  read: boolean
}
const WHEELS: { key: AxleForm['wheels']; name: string }[] = [
  { key: 2, name: 'Two, single' },
  { key: 4, name: 'Four, dual' },
  { key: 1, name: 'One' },
]
const rig = entriesOf<RigValue>()
const axle = entriesOf<AxleForm>()
const spare = entriesOf<SpareForm>()

/** Whether anything was typed there; what a kind proposes is not. */
const PROPOSED = ['kind', 'wheels', 'role', 'lift']
const anything = (parts: Part[]) =>
  parts.some((p) =>
    p.entries.some((e) => !PROPOSED.includes(e.name) && Boolean((p.value as Record<string, unknown>)[e.name])),
  )
const place = (key: string, name: string, says: string, parts: Part[], read = anything(parts)): Place => ({
  ...{ key, name, says, parts, read },
})

export function usePlaces(of: ReturnType<typeof useRigForm>) {
  const { kinds, session } = useSession()
  const roles = computed(() => pairs<AxleForm['role']>(session.value?.roles))
  const form: Ref<RigValue> = of.form
  const { caution, axleName, trailer, work } = of
  const sizes = computed(() => work.answer.value)

  const what = () =>
    place('what', 'Kind and name', 'What it is, and what you call it', [
      {
        under: '',
        heading: '',
        value: form.value,
        entries: [
          rig.text('name', 'Name', { required: true }),
          rig.chips('kind', 'Kind', pairs<RigValue['kind']>(kinds.value), { required: true, class: 'col-span-full' }),
          rig.text('fleet_number', 'Fleet number', { hint: 'If it has one' }),
          rig.text('note', 'Note', { class: 'sm:col-span-2' }),
        ],
      },
    ])
  const label = () =>
    place('label', trailer.value ? 'Label' : 'Door label', 'Ratings and placard, as they stand on it', [
      {
        under: '',
        heading: '',
        value: form.value,
        entries: [
          rig.quantity('gvwr_kg', 'GVWR', 'mass', { hint: caution('gvwr_kg') ?? 'Gross rating' }),
          rig.quantity('gcwr_kg', 'GCWR', 'mass', { hint: 'With a trailer, if it tows', shown: !trailer.value }),
          rig.quantity('cargo_kg', 'Cargo carrying capacity', 'mass'),
          rig.quantity('hitch_max_kg', trailer.value ? 'Coupling or pin limit' : 'Hitch limit', 'mass', {
            hint: 'What it may carry, bars slack',
          }),
        ],
      },
      ...form.value.axles.map((value, i) => ({
        under: `axles.${i}`,
        heading: axleName(i),
        value,
        entries: [
          axle.quantity('gawr_kg', 'GAWR', 'mass', { hint: caution(`axles.${i}.gawr_kg`) ?? 'Axle rating' }),
          axle.quantity('placard_kpa', 'Placard pressure', 'pressure', { hint: 'Fully loaded' }),
          axle.quantity('placard_light_kpa', 'Placard, light load', 'pressure', { hint: 'Where the label gives two' }),
        ],
      })),
    ])
  const tires = (value: AxleForm, i: number) => {
    const dual = value.wheels === 4
    const doubt = (field: string) => caution(`axles.${i}.${field}`)
    const group = sizes.value?.axles[i]?.group ?? ''
    const part: Part = {
      under: `axles.${i}`,
      heading: '',
      value,
      entries: [
        axle.text('tire_size', 'Size on the sidewall', {
          required: i === 0,
          upper: true,
          class: 'sm:col-span-2',
          placeholder: '245/70R19.5 135/133M',
          hint: doubt('tire_size') ?? (understood(sizes.value?.sizes[i]) || 'With all that stands behind it'),
        }),
        axle.choice('wheels', 'Wheels', WHEELS),
        axle.text('load_range', 'Load range', { upper: true, hint: 'A letter, if it has one' }),
        axle.quantity('sidewall_max_kpa', 'Sidewall maximum, cold', 'pressure', {
          hint: doubt('sidewall_max_kpa') ?? 'The ceiling',
        }),
        axle.quantity('max_load_single_kg', 'Sidewall load, single', 'mass'),
        axle.quantity('max_load_dual_kg', 'Sidewall load, dual', 'mass', { shown: dual }),
        axle.quantity('wheel_max_kpa', "Wheel's rated pressure", 'pressure', { hint: 'Stamped into the rim' }),
      ],
      seldom: [
        axle.text('load_index_single', 'Load index, single', {
          inputmode: 'numeric',
          hint: doubt('load_index_single') ?? 'If not in the size',
        }),
        axle.text('load_index_dual', 'Load index, dual', {
          inputmode: 'numeric',
          hint: doubt('load_index_dual') ?? 'If not in the size',
          shown: dual,
        }),
        axle.text('tire_make', 'Tire make and model'),
        axle.quantity('wheel_max_load_kg', "Wheel's rated load", 'mass'),
        axle.text('rim_width_in', 'Rim width, inches', { inputmode: 'decimal', hint: doubt('rim_width_in') }),
        axle.text('rim_low_in', 'Approved rim from', { inputmode: 'decimal' }),
        axle.text('rim_high_in', 'Approved rim to', { inputmode: 'decimal' }),
        axle.text('placard_size', "Placard's size", { upper: true, hint: 'Where it is for another than is fitted' }),
        axle.quantity('lamp_kpa', 'Lamp lights below', 'pressure', { hint: "The vehicle's own warning, where known" }),
        axle.choice('role', 'Kind of axle', roles.value, { shown: form.value.axles.length > 2 }),
        axle.text('share', 'Its share of the group', {
          inputmode: 'decimal',
          hint: 'Empty: shared equally; 0.3 is 30 %',
        }),
        axle.tick('lift', 'Lift axle', { shown: form.value.axles.length > 1 }),
      ],
    }
    const says = group && group !== 'single axle' ? `Tires and wheels; ${group}` : 'Tires and wheels'
    return place(`axles.${i}`, axleName(i), says, [part])
  }
  const spares = () =>
    place(
      'spare',
      'Spare',
      'A tire too, with a pressure of its own',
      form.value.spares.map((value, i) => ({
        under: `spares.${i}`,
        heading: form.value.spares.length > 1 ? `Spare ${i + 1}` : '',
        value,
        entries: [
          spare.text('tire_size', 'Size on the sidewall', {
            upper: true,
            class: 'sm:col-span-2',
            hint: understood(sizes.value?.spares[i]),
          }),
          spare.quantity('required_kpa', 'Required pressure', 'pressure', { hint: 'From placard or marking' }),
          spare.quantity('sidewall_max_kpa', 'Sidewall maximum, cold', 'pressure'),
          spare.text('tire_make', 'Tire make and model'),
        ],
      })),
      form.value.spares.length > 0,
    )
  const tape = () =>
    place('tape', 'Tape measure', 'Where nobody measured, it is drawn as usual and not computed with', [
      ...form.value.axles.map((value, i) => ({
        under: `axles.${i}`,
        heading: axleName(i),
        value,
        entries: [
          axle.quantity('position_m', 'Behind the first axle', 'length', { shown: i > 0 }),
          axle.quantity('track_m', 'Track', 'length', {
            hint: 'Across, wheel center to center',
            shown: value.wheels > 1,
          }),
        ],
      })),
      {
        under: '',
        heading: 'The whole',
        value: form.value,
        entries: [
          rig.quantity('coupler_m', 'Coupling ahead of axle 1', 'length', {
            hint: 'Ball, pin or eye to first axle',
            shown: of.kind.value?.pulled ?? false,
          }),
          rig.quantity('hitch_m', 'Hitch behind axle 1', 'length', { hint: 'If something hangs on it' }),
          rig.quantity('wheelbase_m', 'Wheelbase', 'length', {
            hint: 'Checked against the axles',
            shown: form.value.axles.length > 1,
          }),
        ],
      },
    ])
  const ways = () =>
    place('ways', 'Its ways', 'How it is driven, kept and made ready', [
      {
        under: '',
        heading: '',
        value: form.value,
        entries: [
          rig.quantity('top_speed_kmh', 'Driven at most at', 'speed', { hint: 'Held against the speed symbols' }),
          rig.text('replace_years', 'Replace tires at, years', {
            inputmode: 'numeric',
            hint: trailer.value ? "Empty: 10; many replace a trailer's at 6" : 'Empty: 10',
          }),
          rig.text('checklist', 'Ready to roll: what to see to before it is weighed, a line each', {
            lines: 5,
            class: 'sm:col-span-2',
            hint: 'Empty: the usual list of its kind',
          }),
        ],
      },
    ])
  return computed<Place[]>(() => [what(), label(), ...form.value.axles.map(tires), spares(), tape(), ways()])
}
