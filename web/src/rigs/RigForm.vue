<script setup lang="ts">
/** A rig from its labels and sidewalls, drawn while it is described. */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useSession } from '@/shared/session'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import Field from '@/shared/Field.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import RigPlan from '@/shared/RigPlan.vue'
import TextField from '@/shared/TextField.vue'
import { metersOf, say, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import AxleEditor from './AxleEditor.vue'
import { refreshRig } from './queries'

const props = defineProps<{ id?: number; copy?: number }>()
const source = computed(() => props.id ?? props.copy)
const router = useRouter()
const { kinds, may } = useSession()

interface TireForm {
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
type AxleForm = TireForm & {
  position_m: Entry
  track_m: Entry
  wheels: 1 | 2 | 4
  role: '' | 'tag' | 'pusher'
  lift: boolean
  share: string
  gawr_kg: Entry
  placard_kpa: Entry
  placard_light_kpa: Entry
  placard_size: string
  lamp_kpa: Entry
}
type SpareForm = TireForm & { required_kpa: Entry }

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
const axle = (position_m: number, track_m: number, wheels: 1 | 2 | 4): AxleForm => ({
  ...tire(),
  position_m,
  track_m,
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
const spare = (): SpareForm => ({ ...tire(), required_kpa: null })

/** A first outline of each kind, to be corrected by the tape measure. */
const OUTLINES: Record<string, AxleForm[]> = {
  coach: [axle(0, 2.05, 2), axle(6, 1.85, 4)],
  motorhome: [axle(0, 1.8, 2), axle(4.5, 1.6, 4)],
  van: [axle(0, 1.7, 2), axle(3.6, 1.7, 2)],
  pickup: [axle(0, 1.7, 2), axle(3.7, 1.7, 2)],
  car: [axle(0, 1.55, 2), axle(2.7, 1.55, 2)],
  motorcycle: [axle(0, 0.2, 1), axle(1.5, 0.2, 1)],
  straight_truck: [axle(0, 2.05, 2), axle(5, 1.85, 4)],
  tractor: [axle(0, 2.05, 2), axle(4.2, 1.85, 4), axle(5.5, 1.85, 4)],
  semitrailer: [axle(0, 1.85, 4), axle(1.3, 1.85, 4)],
  full_trailer: [axle(0, 1.85, 4), axle(5, 1.85, 4)],
  trailer: [axle(0, 1.9, 2)],
  camper: [axle(0, 1.9, 2)],
  fifth_wheel: [axle(0, 2, 2), axle(0.9, 2, 2)],
}
const outline = (kind: string) => (OUTLINES[kind] ?? OUTLINES.van!).map((a) => ({ ...a }))

const form = reactive({
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
  axles: outline('coach'),
  spares: [] as SpareForm[],
})
const touchedAxles = ref(false)
const removed = ref<{ at: number; axle: AxleForm } | null>(null)

const { data: stored } = useQuery({
  queryKey: ['rig', source],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}', { params: { path: { rig_id: source.value! } } })),
  enabled: computed(() => source.value !== undefined),
})
let filled = false
/** What the form was filled from: somebody may change it meanwhile. */
let seen = ''
watch(
  stored,
  (rig) => {
    if (!rig || filled) return
    filled = true
    seen = rig.version
    touchedAxles.value = true
    const tireOf = (t: Schemas['AxleOut'] | Schemas['SpareOut']): TireForm => ({
      tire_size: t.tire_size,
      tire_make: t.tire_make,
      load_index_single: t.load_index_single === null ? '' : String(t.load_index_single),
      load_index_dual: t.load_index_dual === null ? '' : String(t.load_index_dual),
      load_range: t.load_range,
      max_load_single_kg: t.max_load_single_kg,
      max_load_dual_kg: t.max_load_dual_kg,
      sidewall_max_kpa: t.sidewall_max_kpa,
      wheel_max_kpa: t.wheel_max_kpa,
      wheel_max_load_kg: t.wheel_max_load_kg,
      rim_width_in: t.rim_width_in === null ? '' : String(t.rim_width_in),
      rim_low_in: t.rim_low_in === null ? '' : String(t.rim_low_in),
      rim_high_in: t.rim_high_in === null ? '' : String(t.rim_high_in),
    })
    Object.assign(form, {
      kind: rig.kind,
      // A copy gets a name and a number of its own.
      name: props.copy ? '' : rig.name,
      fleet_number: props.copy ? '' : rig.fleet_number,
      gvwr_kg: rig.gvwr_kg,
      gcwr_kg: rig.gcwr_kg,
      hitch_max_kg: rig.hitch_max_kg,
      cargo_kg: rig.cargo_kg,
      wheelbase_m: rig.wheelbase_m,
      hitch_m: rig.hitch_m,
      coupler_m: rig.coupler_m,
      top_speed_kmh: rig.top_speed_kmh,
      replace_years: rig.replace_years === null ? '' : String(rig.replace_years),
      checklist: rig.checklist.join('\n'),
      note: rig.note,
      axles: rig.axles.map((a) => ({
        ...tireOf(a),
        position_m: a.position_m,
        track_m: a.track_m,
        wheels: a.wheels,
        role: a.role,
        lift: a.lift,
        share: a.share === null ? '' : String(a.share),
        gawr_kg: a.gawr_kg,
        placard_kpa: a.placard_kpa,
        placard_light_kpa: a.placard_light_kpa,
        placard_size: a.placard_size,
        lamp_kpa: a.lamp_kpa,
      })),
      spares: rig.spares.map((s) => ({ ...tireOf(s), required_kpa: s.required_kpa })),
    })
  },
  { immediate: true },
)

function chooseKind() {
  if (!touchedAxles.value) form.axles = outline(form.kind)
}
watch(() => form.kind, chooseKind)

function addAxle(behind = form.axles.length - 1) {
  touchedAxles.value = true
  const last = form.axles[behind]!
  const at = typeof last.position_m === 'number' ? last.position_m + 1.3 : null
  form.axles.splice(behind + 1, 0, { ...last, position_m: at, gawr_kg: null, lift: false, role: '' })
  // What stood behind it makes room.
  for (const a of form.axles.slice(behind + 2))
    if (typeof a.position_m === 'number' && at !== null && a.position_m < at + 1.2)
      a.position_m = Math.round((a.position_m + 1.3) * 100) / 100
}
function moveAxle(i: number, position: number) {
  touchedAxles.value = true
  form.axles[i]!.position_m = position
  if (form.axles.length === 2 && form.wheelbase_m !== null) form.wheelbase_m = position
}
function toggleDual(i: number) {
  touchedAxles.value = true
  const a = form.axles[i]!
  a.wheels = a.wheels === 4 ? 2 : 4
}
function removeAxle(i: number) {
  if (form.axles.length === 1) return
  touchedAxles.value = true
  removed.value = { at: i, axle: form.axles[i]! }
  form.axles.splice(i, 1)
  if (i === 0 && form.axles[0]) form.axles[0].position_m = 0
}
function undoRemove() {
  if (!removed.value) return
  form.axles.splice(removed.value.at, 0, removed.value.axle)
  removed.value = null
}
function addSpare() {
  const { tire_size, tire_make, load_range, sidewall_max_kpa, wheel_max_kpa } = form.axles.at(-1)!
  form.spares.push({ ...spare(), tire_size, tire_make, load_range, sidewall_max_kpa, wheel_max_kpa })
}
const TIRE_KEYS = Object.keys(tire()) as (keyof TireForm)[]
function sameAsFirst(i: number) {
  for (const key of TIRE_KEYS) Object.assign(form.axles[i]!, { [key]: form.axles[0]![key] })
}

const trailer = computed(() => kinds.value.find((k) => k.key === form.kind)?.trailer ?? false)
const pulled = computed(() => trailer.value && form.kind !== 'full_trailer')

const tireBody = (t: TireForm) => ({
  ...t,
  load_index_single: t.load_index_single || null,
  load_index_dual: t.load_index_dual || null,
  rim_width_in: t.rim_width_in || null,
  rim_low_in: t.rim_low_in || null,
  rim_high_in: t.rim_high_in || null,
})
const body = computed(
  () =>
    ({
      ...form,
      gcwr_kg: trailer.value ? null : form.gcwr_kg,
      replace_years: form.replace_years || null,
      checklist: form.checklist
        .split('\n')
        .map((line) => line.trim())
        .filter(Boolean),
      axles: form.axles.map((a) => ({
        ...a,
        ...tireBody(a),
        dual: a.wheels === 4,
        share: a.share || null,
      })),
      spares: form.spares.map((s) => ({ ...s, ...tireBody(s) })),
    }) as unknown as Schemas['RigIn'],
)
// A stored rig is asked about only once it has filled the form.
const inputs = computed(() => (source.value === undefined || stored.value ? body.value : null))
const work = useWork(inputs, (data) => answer(api.POST('/api/v1/work/rigs', { body: data })))

const { save, busy, fields, message, newer } = useSave(async () => {
  const saved = props.id
    ? await answer(
        api.PUT('/api/v1/rigs/{rig_id}', {
          params: { path: { rig_id: props.id } },
          body: { ...body.value, version: newer.value || seen },
        }),
      )
    : await answer(api.POST('/api/v1/rigs', { body: body.value }))
  await refreshRig(saved.id)
  await router.push({ name: props.id ? 'rig' : 'weighing', params: { id: saved.id } })
})
const tried = ref(false)
async function submit() {
  tried.value = true
  await save()
  await work.settled()
  await nextTick()
  document.querySelector<HTMLElement>('[aria-invalid="true"]')?.focus()
}

/** An empty field is told only once somebody has tried to save; anything else at once. */
function no(field: string): string | undefined {
  const told = fields.value[field] ?? work.fields.value[field]
  if (!told || tried.value) return told
  const value = field.split('.').reduce<unknown>((at, key) => (at as Record<string, unknown>)?.[key], form)
  return value === '' || value === null || value === undefined ? undefined : told
}
function caution(field: string): string | undefined {
  const found = work.answer.value?.cautions.find((c) => c.field === field)
  return found && say(found.words)
}
const WHEELS = [
  { key: 2 as const, name: 'Two, single' },
  { key: 4 as const, name: 'Four, dual' },
  { key: 1 as const, name: 'One' },
]
const axleName = (i: number) =>
  form.axles.length === 1
    ? 'Axle'
    : form.axles.length === 2
      ? ['Front axle', 'Rear axle'][i]!
      : `Axle ${i + 1}`
const axles = computed(() =>
  form.axles.map((a, i) => ({
    number: i + 1,
    name: axleName(i),
    position_m: metersOf(a.position_m) ?? i * 1.3,
    track_m: metersOf(a.track_m) ?? 1.8,
    wheels: a.wheels,
    lift: a.lift,
  })),
)
const vehicles = computed(() => [
  { name: form.name, trailer: trailer.value, axles: axles.value, wheels: work.answer.value?.wheels ?? [] },
])
const understood = (size?: Schemas['SizeRead']) =>
  size &&
  [size.words, size.asked_for.length ? `still asked for: ${size.asked_for.join(', ')}` : '']
    .filter(Boolean)
    .join('; ')
const SELDOM = [
  'wheel_max_load_kg',
  'rim_width_in',
  'placard_light_kpa',
  'placard_size',
  'lamp_kpa',
  'role',
  'share',
  'lift',
] as const satisfies (keyof AxleForm)[]
const seldom = (a: AxleForm) => SELDOM.some((key) => Boolean(a[key]))
const seldomRefused = (i: number) => SELDOM.some((key) => Boolean(fields.value[`axles.${i}.${key}`]))
const ROLES = [
  { key: '' as const, name: 'Plain' },
  { key: 'tag' as const, name: 'Tag, behind the driven one' },
  { key: 'pusher' as const, name: 'Pusher, ahead of it' },
]
</script>

<template>
  <div class="lg:flex">
    <aside
      class="hidden w-[356px] shrink-0 border-r border-hairline px-5 py-6 lg:block"
      aria-label="Plan of the rig as described"
    >
      <h2>{{ form.name || 'New rig' }}</h2>
      <RigPlan
        v-if="vehicles[0]!.wheels.length"
        class="mt-2"
        :vehicles="vehicles"
        :states="{}"
        label="Wheels as described"
      />
      <p v-else class="mt-3 text-soft">The plan appears once the sizes are in.</p>
    </aside>
    <main id="stage" class="min-w-0 flex-1 px-4 py-6 lg:px-7">
      <h1>
        {{
          id ? `Change ${stored?.name ?? 'rig'}` : copy ? `A rig like ${stored?.name ?? 'that'}` : 'Add a rig'
        }}
      </h1>
      <p class="text-soft">
        As its labels and sidewalls say. Leave empty what you do not know: unknown is never taken for zero.
      </p>
      <form class="mt-5 max-w-4xl" novalidate @submit.prevent="submit">
        <div class="grid gap-4 sm:grid-cols-2 lg:grid-cols-4">
          <ChoiceField
            v-model="form.kind"
            label="Kind"
            :choices="kinds as { key: typeof form.kind; name: string }[]"
            :message="no('kind')"
          />
          <TextField v-model="form.name" label="Name" :message="no('name')" />
          <TextField
            v-model="form.fleet_number"
            label="Fleet number"
            hint="If it has one"
            :message="no('fleet_number')"
          />
          <QuantityField
            v-model="form.gvwr_kg"
            label="GVWR"
            kind="mass"
            :message="no('gvwr_kg')"
            :hint="caution('gvwr_kg') ?? 'Gross rating, from the label'"
          />
          <QuantityField
            v-if="!trailer"
            v-model="form.gcwr_kg"
            label="GCWR"
            kind="mass"
            :message="no('gcwr_kg')"
            hint="With a trailer, if it tows"
          />
          <QuantityField
            v-model="form.hitch_max_kg"
            :label="trailer ? 'Coupling or pin limit' : 'Hitch limit'"
            kind="mass"
            :message="no('hitch_max_kg')"
            hint="What it may carry, bars slack"
          />
          <QuantityField
            v-model="form.cargo_kg"
            label="Cargo carrying capacity"
            kind="mass"
            :message="no('cargo_kg')"
            hint="As its label says"
          />
          <QuantityField
            v-if="pulled"
            v-model="form.coupler_m"
            label="Coupling ahead of axle 1"
            kind="length"
            :message="no('coupler_m')"
            hint="Ball, pin or eye to first axle"
          />
          <QuantityField
            v-model="form.hitch_m"
            label="Hitch behind axle 1"
            kind="length"
            :message="no('hitch_m')"
            hint="If something hangs on it"
          />
          <QuantityField
            v-if="form.axles.length > 1"
            v-model="form.wheelbase_m"
            label="Wheelbase"
            kind="length"
            :message="no('wheelbase_m')"
            hint="Checked against the axles"
          />
          <QuantityField
            v-model="form.top_speed_kmh"
            label="Driven at most at"
            kind="speed"
            :message="no('top_speed_kmh')"
            hint="Held against the speed symbols"
          />
          <TextField
            v-model="form.replace_years"
            label="Replace tires at, years"
            inputmode="numeric"
            :hint="trailer ? 'Empty: 10; many replace a trailer\'s at 6' : 'Empty: 10'"
            :message="no('replace_years')"
          />
          <TextField v-model="form.note" class="sm:col-span-2" label="Note" :message="no('note')" />
        </div>

        <section class="mt-6 border-t border-hairline pt-4" aria-label="Axles on the plan">
          <AxleEditor
            :axles="axles"
            :trailer="trailer"
            :pulled="pulled"
            :coupler="metersOf(form.coupler_m)"
            :hitch="metersOf(form.hitch_m)"
            :solo="form.kind === 'motorcycle'"
            @move="moveAxle"
            @dual="toggleDual"
            @add="addAxle"
            @remove="removeAxle"
          />
          <p v-if="removed" class="mt-1 text-sm">
            Axle {{ removed.at + 1 }} is off.
            <button type="button" class="link" @click="undoRemove">Bring it back</button>
          </p>
        </section>

        <fieldset v-for="(a, i) in form.axles" :key="i" class="mt-7 border-t border-hairline pt-4">
          <legend class="float-left text-[1.07rem] font-bold">
            {{ axleName(i) }}
            <span class="font-normal text-soft">{{
              work.answer.value?.groups[i] === 'single axle' ? '' : (work.answer.value?.groups[i] ?? '')
            }}</span>
          </legend>
          <p class="flex justify-end gap-4 text-sm">
            <button v-if="i > 0" type="button" class="link" @click="sameAsFirst(i)">
              Same tires as the first
            </button>
            <button v-if="form.axles.length > 1" type="button" class="link" @click="removeAxle(i)">
              Remove
            </button>
          </p>
          <div class="mt-3 grid clear-both gap-4 sm:grid-cols-2 lg:grid-cols-4">
            <QuantityField
              v-if="i > 0"
              v-model="a.position_m"
              label="Behind the first axle"
              kind="length"
              :message="no(`axles.${i}.position_m`)"
              @input="touchedAxles = true"
            />
            <QuantityField
              v-model="a.track_m"
              label="Track"
              kind="length"
              hint="Across, wheel center to center"
              :message="no(`axles.${i}.track_m`)"
            />
            <ChoiceField
              v-model="a.wheels"
              label="Wheels"
              :choices="WHEELS"
              :message="no(`axles.${i}.wheels`)"
              @update:model-value="touchedAxles = true"
            />
            <QuantityField
              v-model="a.gawr_kg"
              label="GAWR"
              kind="mass"
              :message="no(`axles.${i}.gawr_kg`)"
              :hint="caution(`axles.${i}.gawr_kg`) ?? 'Axle rating, from the label'"
            />
            <QuantityField
              v-model="a.placard_kpa"
              label="Placard pressure"
              kind="pressure"
              hint="For the size that is fitted"
              :message="no(`axles.${i}.placard_kpa`)"
            />
            <TextField
              v-model="a.tire_size"
              upper
              label="Size on the sidewall"
              placeholder="245/70R19.5 135/133M"
              :message="no(`axles.${i}.tire_size`)"
              :hint="
                caution(`axles.${i}.tire_size`) ??
                understood(work.answer.value?.sizes[i]) ??
                'With its service description'
              "
            />
            <TextField
              v-model="a.load_index_single"
              label="Load index, single"
              inputmode="numeric"
              :message="no(`axles.${i}.load_index_single`)"
              :hint="caution(`axles.${i}.load_index_single`) ?? 'If not in the size'"
            />
            <TextField
              v-if="a.wheels === 4"
              v-model="a.load_index_dual"
              label="Load index, dual"
              inputmode="numeric"
              :message="no(`axles.${i}.load_index_dual`)"
              :hint="caution(`axles.${i}.load_index_dual`) ?? 'If not in the size'"
            />
            <TextField
              v-model="a.load_range"
              upper
              label="Load range"
              :message="no(`axles.${i}.load_range`)"
            />
            <QuantityField
              v-model="a.sidewall_max_kpa"
              label="Sidewall maximum, cold"
              kind="pressure"
              :message="no(`axles.${i}.sidewall_max_kpa`)"
              :hint="caution(`axles.${i}.sidewall_max_kpa`) ?? 'The ceiling'"
            />
            <QuantityField
              v-model="a.max_load_single_kg"
              label="Sidewall load, single"
              kind="mass"
              :message="no(`axles.${i}.max_load_single_kg`)"
            />
            <QuantityField
              v-if="a.wheels === 4"
              v-model="a.max_load_dual_kg"
              label="Sidewall load, dual"
              kind="mass"
              :message="no(`axles.${i}.max_load_dual_kg`)"
            />
            <QuantityField
              v-model="a.wheel_max_kpa"
              label="Wheel's rated pressure"
              kind="pressure"
              :message="no(`axles.${i}.wheel_max_kpa`)"
            />
            <TextField
              v-model="a.tire_make"
              label="Tire make and model"
              :message="no(`axles.${i}.tire_make`)"
            />
          </div>
          <Opening
            class="mt-2 text-sm"
            label="Wheel, rim, second placard, kind of axle"
            :open="seldom(a) || seldomRefused(i)"
          >
            <div class="grid gap-4 text-base sm:grid-cols-2 lg:grid-cols-4">
              <QuantityField
                v-model="a.wheel_max_load_kg"
                label="Wheel's rated load"
                kind="mass"
                :message="no(`axles.${i}.wheel_max_load_kg`)"
              />
              <TextField
                v-model="a.rim_width_in"
                label="Rim width, inches"
                inputmode="decimal"
                :message="no(`axles.${i}.rim_width_in`)"
                :hint="caution(`axles.${i}.rim_width_in`)"
              />
              <TextField
                v-model="a.rim_low_in"
                label="Approved rim from"
                inputmode="decimal"
                :message="no(`axles.${i}.rim_low_in`)"
              />
              <TextField
                v-model="a.rim_high_in"
                label="Approved rim to"
                inputmode="decimal"
                :message="no(`axles.${i}.rim_high_in`)"
              />
              <QuantityField
                v-model="a.placard_light_kpa"
                label="Placard, light load"
                kind="pressure"
                hint="Where the label gives two"
                :message="no(`axles.${i}.placard_light_kpa`)"
              />
              <TextField
                v-model="a.placard_size"
                upper
                label="Placard's size"
                hint="Where it is for another than is fitted"
                :message="no(`axles.${i}.placard_size`)"
              />
              <QuantityField
                v-model="a.lamp_kpa"
                label="Lamp lights below"
                kind="pressure"
                hint="The vehicle's own warning, where its threshold is known or was changed"
                :message="no(`axles.${i}.lamp_kpa`)"
              />
              <ChoiceField
                v-if="form.axles.length > 2"
                v-model="a.role"
                label="Kind of axle"
                :choices="ROLES"
                :message="no(`axles.${i}.role`)"
              />
              <TextField
                v-model="a.share"
                label="Its share of the group"
                inputmode="decimal"
                hint="Empty: shared equally; 0.3 is 30 %"
                :message="no(`axles.${i}.share`)"
              />
              <div v-if="form.axles.length > 1">
                <label class="flex min-h-10 items-center gap-2 sm:mt-6">
                  <input v-model="a.lift" type="checkbox" class="size-5 accent-teal" /> Lift axle
                </label>
                <Refusal :message="no(`axles.${i}.lift`)" />
              </div>
            </div>
          </Opening>
        </fieldset>
        <p class="mt-4 flex flex-wrap gap-4">
          <button v-if="form.axles.length < 9" type="button" class="button" @click="addAxle()">
            Add an axle
          </button>
          <button v-if="form.spares.length < 3" type="button" class="button" @click="addSpare">
            Add a spare
          </button>
        </p>

        <fieldset v-for="(s, i) in form.spares" :key="`s${i}`" class="mt-7 border-t border-hairline pt-4">
          <legend class="float-left text-[1.07rem] font-bold">
            Spare {{ form.spares.length > 1 ? i + 1 : '' }}
          </legend>
          <p class="text-right text-sm">
            <button type="button" class="link" @click="form.spares.splice(i, 1)">Remove</button>
          </p>
          <div class="mt-3 grid clear-both gap-4 sm:grid-cols-2 lg:grid-cols-4">
            <TextField
              v-model="s.tire_size"
              upper
              label="Size on the sidewall"
              :hint="understood(work.answer.value?.spares[i])"
              :message="no(`spares.${i}.tire_size`)"
            />
            <QuantityField
              v-model="s.required_kpa"
              label="Required pressure"
              kind="pressure"
              hint="Its own, from placard or marking"
              :message="no(`spares.${i}.required_kpa`)"
            />
            <QuantityField
              v-model="s.sidewall_max_kpa"
              label="Sidewall maximum, cold"
              kind="pressure"
              :message="no(`spares.${i}.sidewall_max_kpa`)"
            />
            <TextField
              v-model="s.tire_make"
              label="Tire make and model"
              :message="no(`spares.${i}.tire_make`)"
            />
          </div>
        </fieldset>

        <section class="mt-7 border-t border-hairline pt-4">
          <Field
            v-slot="{ id: field, described, invalid }"
            label="Ready to roll: what to see to before it is weighed, a line each"
            hint="Empty: the usual list of its kind"
            :message="no('checklist')"
          >
            <textarea
              :id="field"
              v-model="form.checklist"
              class="input max-w-xl"
              rows="5"
              :aria-describedby="described"
              :aria-invalid="invalid || undefined"
            />
          </Field>
        </section>

        <div class="mt-8 flex flex-wrap items-center gap-4 border-t border-hairline pt-5">
          <button class="button button-next" :disabled="busy || !may('rigs')">
            {{ id ? 'Save the changes' : 'Add it, then weigh' }}
          </button>
          <RouterLink :to="id ? { name: 'rig', params: { id } } : '/'" class="link"
            >Leave without saving</RouterLink
          >
          <Refusal :message="message" />
        </div>
      </form>
    </main>
  </div>
</template>
