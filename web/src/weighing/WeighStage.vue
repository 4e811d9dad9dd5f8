<script setup lang="ts">
/** From a scale to the load on each tire: as a ticket says, or pass by pass with the guide. */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { useSession } from '@/shared/session'
import { useFrame } from '@/rigs/frame'
import { refreshAll } from '@/rigs/queries'
import { answer, api, refusedOf, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import FileField from '@/shared/FileField.vue'
import Opening from '@/shared/Opening.vue'
import Overloads from '@/shared/Overloads.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { figure, show, spokenDay, system, today, unitOf, type Entry } from '@/shared/units'
import { useOnce, useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import { BLANK_WHEEL, type WheelState } from '@/shared/scale'
import AxleLoads from './AxleLoads.vue'
import GrossLoads from './GrossLoads.vue'
import PassGuide, { type Pass } from './PassGuide.vue'
import WeighPages from './WeighPages.vue'
import { BARS } from './words'
import { loadStates } from './queries'

type Way = Schemas['LoadsIn']['way']
const { id, sheet, states, caption, standing, whole } = useFrame()
const { may, session } = useSession()
const rig = computed(() => sheet.value.rig)
const train = computed(() => sheet.value.train)
const tows = computed(() => train.value.length > 1 && rig.value.head === null)
const { data: known } = useQuery(loadStates(id))

const blank = () =>
  rig.value.axles.map(() => ({
    whole_kg: null as Entry,
    left_kg: null as Entry,
    right_kg: null as Entry,
    lifted: false,
  }))
const form = reactive({
  load_state: sheet.value.weighing?.load_state ?? 'trip-ready',
  weighed_on: today(),
  scale: sheet.value.weighing?.scale ?? '',
  // By a simulated scale: it stays so until the form starts afresh.
  made_up: false,
  resolution_kg: (sheet.value.weighing?.resolution_kg ?? null) as Entry,
  odometer: null as Entry,
  bars: '' as Schemas['LoadsIn']['bars'],
  hitch_kg: null as Entry,
  way: 'ticket' as Way,
  with_trailers: false,
  ready: [] as string[],
  note: '',
  amends: null as number | null,
  axles: blank(),
})
const suggested = computed(() => [
  ...new Set([...(known.value ?? []).map((s) => s.name), ...(session.value?.load_states ?? [])]),
])
const weighings = useQuery({
  queryKey: ['rig', id, 'weighings'],
  queryFn: () =>
    answer(api.GET('/api/v1/rigs/{rig_id}/weighings', { params: { path: { rig_id: id.value } } })),
})
const WAYS: { key: Way; name: string; note: string }[] = [
  { key: 'ticket', name: 'As on a ticket', note: 'Axles, by ends or as a whole' },
  { key: 'passes', name: 'Platform scale', note: 'Roll on axle by axle; the differences are done for you' },
  { key: 'axles', name: 'Axle scale', note: 'One axle at a time' },
  { key: 'left', name: 'Platform, then left wheels', note: 'The ends of each axle from a public scale' },
  { key: 'pads', name: 'Wheel pads', note: 'Every end by itself' },
]

// -- the guide ------------------------------------------------------------------------------------
const passes = ref<Pass[]>([])
/** Passes that came from a file or an older ticket stand as they are. */
const brought = ref(false)
const guide = useQuery({
  queryKey: ['rig', id, 'guide', () => form.way, () => form.with_trailers],
  queryFn: () =>
    answer(
      api.POST('/api/v1/work/weighing/guide', {
        body: {
          rig: id.value,
          way: form.way as Schemas['GuideIn']['way'],
          with_trailers: form.with_trailers,
          hitch: true,
        },
      }),
    ),
  enabled: () => form.way !== 'ticket' && !brought.value,
})
watch(
  [guide.data, () => form.way, () => form.with_trailers],
  () => {
    if (brought.value || form.way === 'ticket' || !guide.data.value) return
    const before = new Map(passes.value.map((p) => [p.words, p.kg]))
    passes.value = guide.data.value.map((s) => ({ ...s, kg: before.get(s.words) ?? null }))
  },
  { immediate: true },
)
watch([() => form.way, () => form.with_trailers], () => {
  if (form.way === 'ticket') standing.value = []
  whole.value = form.way !== 'ticket' && form.with_trailers
})
const guided = computed(() => form.way !== 'ticket')

const typed = computed(() =>
  guided.value
    ? passes.value.some((p) => p.kg !== null)
    : form.axles.some((a) => a.whole_kg !== null || a.left_kg !== null || a.right_kg !== null || a.lifted),
)
const reading = computed(() => ({
  way: form.way,
  with_trailers: guided.value && form.with_trailers,
  resolution_kg: form.resolution_kg,
  bars: form.bars,
  hitch_kg: form.hitch_kg,
  axles: guided.value ? [] : form.axles.map((a) => ({ ...a })),
  passes: guided.value
    ? passes.value
        .filter((p) => p.kg !== null)
        .map((p) => ({ words: p.words, on: p.on, apart: p.apart, kg: p.kg! }))
    : [],
}))
const inputs = computed(() => (typed.value ? { rig: id.value, ...reading.value } : null))
const work = useWork(inputs, (body) => answer(api.POST('/api/v1/work/weighing', { body })))
const loads = computed(() => (typed.value ? work.answer.value : (sheet.value.weighing?.loads ?? null)))
const loadOf = (number: number) => loads.value?.axles.find((a) => a.number === number)
const stale = computed(() => typed.value && work.stale.value)

watch(
  [loads, system, train],
  () => {
    const found: Record<string, WheelState> = {}
    for (const vehicle of tows.value ? train.value : [rig.value]) {
      const own =
        vehicle.id === id.value ? loads.value : loads.value?.others.find((o) => o.rig === vehicle.id)
      for (const wheel of vehicle.wheels) {
        const axle = wheel.axle ? own?.axles.find((a) => a.number === wheel.axle) : undefined
        const across = vehicle.axles.find((a) => a.number === wheel.axle)?.wheels ?? 2
        const end = wheel.side === 'L' ? axle?.left_kg : wheel.side === 'R' ? axle?.right_kg : axle?.total_kg
        const weighed = end === null || end === undefined ? undefined : across === 4 ? end / 2 : end
        const load = weighed ?? axle?.per_tire_kg
        found[wheel.code] = {
          ...BLANK_WHEEL,
          words:
            load === null || load === undefined
              ? axle?.lifted
                ? 'up'
                : wheel.axle
                  ? 'unknown'
                  : 'no load'
              : weighed === undefined
                ? 'assumed'
                : unitOf('mass'),
          ...(load === null || load === undefined ? {} : { text: figure('mass', load).replace(',', '') }),
        }
      }
    }
    states.value = found
    caption.value = typed.value
      ? 'load on each tire, as typed'
      : loads.value
        ? 'load on each tire'
        : 'not weighed yet'
  },
  { immediate: true },
)

// -- a connected scale, a ticket from a file ------------------------------------------------------
const scales = useQuery({ queryKey: ['scales'], queryFn: () => answer(api.GET('/api/v1/scales')) })
const fitting = computed(() => scales.data.value?.filter((s) => s.ways.includes(form.way as never)) ?? [])
const connected = ref('')
const fault = ref<Schemas['ScaleIn']['fault']>('')
const remark = ref('')
const scaleChoices = computed(() => [
  { key: '', name: 'None: I type the readings' },
  ...fitting.value.map((s) => ({ key: s.key, name: s.name })),
])
const FAULTS = [
  { key: '' as const, name: 'Nothing' },
  { key: 'tare drift' as const, name: 'Not set to zero' },
  { key: 'not level' as const, name: 'Approach not level' },
  { key: 'half off' as const, name: 'Wheels half off the plate' },
]
watch([connected, fitting], () => {
  const scale = fitting.value.find((s) => s.key === connected.value)
  if (!scale) {
    connected.value = ''
    return
  }
  form.scale = scale.name
  form.made_up = scale.simulated
  form.resolution_kg = scale.resolution_kg
})
async function ask(pass: Pass) {
  remark.value = ''
  try {
    const shown = await answer(
      api.POST('/api/v1/work/weighing/scale', {
        body: {
          rig: id.value,
          scale: connected.value,
          with_trailers: form.with_trailers,
          on: pass.on,
          apart: pass.apart,
          fault: fault.value,
        },
      }),
    )
    pass.kg = shown.kg
    remark.value = shown.steady ? shown.remark : `Not steady: ${shown.remark}`
  } catch (error) {
    remark.value = refusedOf(error).message
  }
}
const issue = useSave(async (kind: 'json' | 'csv') => {
  const ticket = await answer(
    api.POST('/api/v1/work/weighing/scale-ticket', {
      body: {
        rig: id.value,
        scale: connected.value,
        way: form.way as Schemas['GuideIn']['way'],
        with_trailers: form.with_trailers,
        fault: fault.value,
      },
    }),
  )
  const file = new Blob([kind === 'json' ? ticket.json_text : ticket.csv_text], { type: 'text/plain' })
  const link = document.createElement('a')
  link.href = URL.createObjectURL(file)
  link.download = `scale-ticket.${kind}`
  link.click()
  URL.revokeObjectURL(link.href)
})
// What to check of a ticket before it is saved.
const told = ref<string[]>([])
const bring = useSave(async (file: Schemas['FileIn']) => {
  const ticket = await answer(api.POST('/api/v1/work/weighing/ticket', { body: { ...file, rig: id.value } }))
  take(ticket, ticket.passes)
  told.value = ticket.notes
  Object.assign(form, {
    scale: ticket.scale,
    made_up: ticket.made_up,
    resolution_kg: ticket.resolution_kg,
    weighed_on: ticket.weighed_on,
  })
})
function take(from: { way: string; with_trailers: boolean }, given: Schemas['PassOut'][]) {
  brought.value = true
  form.way = from.way as Way
  form.with_trailers = from.with_trailers
  passes.value = given.map((p) => ({ ...p, kg: p.typed, wheels: wheelsAt(p.on) }))
}
/** The wheels of the plan at spots of a ticket: “1:2L” is axle 2, left, of the second vehicle. */
function wheelsAt(on: string[]): string[] {
  return on.flatMap((spot) => {
    const [vehicle, rest] = spot.split(':') as [string, string]
    const wheels = train.value[Number(vehicle)]?.wheels ?? []
    return wheels.filter((w) => w.axle === Number(rest[0]) && w.side === rest[1]).map((w) => w.code)
  })
}
function leaveTicket() {
  brought.value = false
  told.value = []
  passes.value = []
  form.way = 'ticket'
  form.made_up = false
}

// -- saving -----------------------------------------------------------------------------------------
const once = useOnce()
const { save, busy, fields, message } = useSave(async () => {
  const ticket = {
    ...reading.value,
    load_state: form.load_state,
    weighed_on: form.weighed_on,
    scale: form.scale,
    made_up: form.made_up,
    odometer: form.odometer,
    ready: form.ready,
    note: form.note,
    amends: form.amends,
  }
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/weighings', {
      params: { path: { rig_id: id.value } },
      body: { ...ticket, uuid: once.idOf(ticket) },
    }),
  )
  once.stored()
  await refreshAll()
  clear()
})
function clear() {
  amending.value = null
  brought.value = false
  standing.value = []
  passes.value = passes.value.map((p) => ({ ...p, kg: null }))
  Object.assign(form, { axles: blank(), note: '', amends: null, ready: [], odometer: null, hitch_kg: null })
}
async function submit() {
  await save()
  await work.settled()
  await nextTick()
  document.querySelector<HTMLElement>('form [aria-invalid="true"]')?.focus()
}
const no = (field: string) => fields.value[field] ?? (typed.value ? work.fields.value[field] : undefined)

const amending = ref<Schemas['WeighingOut'] | null>(null)
function amend(w: Schemas['WeighingOut']) {
  amending.value = w
  Object.assign(form, {
    load_state: w.load_state,
    weighed_on: w.weighed_on,
    scale: w.scale,
    made_up: w.made_up,
    resolution_kg: w.resolution_kg,
    odometer: w.odometer_km,
    bars: w.bars,
    hitch_kg: w.hitch_typed || null,
    ready: [...w.ready],
    note: w.note,
    amends: w.id,
    way: 'ticket',
    axles: rig.value.axles.map((_, i) => ({
      whole_kg: w.typed[i]?.whole_kg ?? null,
      left_kg: w.typed[i]?.left_kg ?? null,
      right_kg: w.typed[i]?.right_kg ?? null,
      lifted: w.lifted[i] ?? false,
    })),
  })
  if (w.passes.length)
    take({ way: w.way, with_trailers: w.passes.some((p) => p.on.some((s) => !s.startsWith('0:'))) }, w.passes)
  window.scrollTo({ top: 0 })
}
function stopAmending() {
  clear()
  leaveTicket()
  form.weighed_on = today()
}
const saved = computed(() => !typed.value && sheet.value.weighing)
const HOW: Record<string, string> = {
  ticket: 'axles and ends',
  passes: 'cumulative passes',
  axles: 'axle by axle',
  left: 'left wheels',
  pads: 'every end',
  'worked out': 'worked out, not weighed',
}
</script>

<template>
  <WeighPages />
  <h1>What each tire carries</h1>
  <p class="text-soft">
    Weigh it as it travels: tanks, people and load where they ride. The ends of an axle show a heavy corner.
  </p>
  <Overloads v-if="loads" class="mt-4" :over="loads.over" :caution="loads.caution" />
  <Banner v-if="amending" class="mt-4">
    Amending the ticket of {{ spokenDay(amending.weighed_on) }}. The old one stays readable.
    <button type="button" class="link" @click="stopAmending">Leave it as it was</button>
  </Banner>

  <form class="mt-5" novalidate @submit.prevent="submit">
    <template v-if="may('weigh')">
      <Opening class="mb-4" :label="`Ready to roll: ${form.ready.length} of ${rig.checklist.length} seen to`">
        <ul class="grid gap-x-6 gap-y-1 sm:grid-cols-2">
          <li v-for="c in rig.checklist" :key="c">
            <label class="flex min-h-9 items-center gap-2.5">
              <input v-model="form.ready" type="checkbox" :value="c" class="size-5 shrink-0 accent-teal" />
              {{ c }}
            </label>
          </li>
        </ul>
        <RouterLink v-if="may('rigs')" :to="{ name: 'rig-edit', params: { id } }" class="text-sm"
          >Change this list</RouterLink
        >
      </Opening>
      <div class="grid grid-cols-2 gap-4 lg:grid-cols-4">
        <TextField
          v-model="form.load_state"
          label="Load state"
          :suggest="suggested"
          :message="no('load_state')"
        />
        <TextField v-model="form.weighed_on" label="Weighed on" type="date" :message="no('weighed_on')" />
        <TextField v-model="form.scale" label="Scale" :message="no('scale')" />
        <QuantityField
          v-model="form.resolution_kg"
          label="Scale's step"
          kind="mass"
          :message="no('resolution_kg')"
        />
        <ChoiceField v-model="form.way" label="How it is weighed" :choices="WAYS" :message="no('way')" />
        <QuantityField v-model="form.odometer" label="Odometer" kind="distance" :message="no('odometer')" />
        <ChoiceField
          v-if="tows || rig.pulled"
          v-model="form.bars"
          label="Weight-distribution bars"
          :choices="BARS"
          :message="no('bars')"
        />
        <QuantityField
          v-if="!form.with_trailers && (rig.pulled || rig.hitch_max_kg !== null)"
          v-model="form.hitch_kg"
          :label="rig.pulled ? 'Its load on the hitch' : 'Load on its hitch'"
          kind="mass"
          hint="If you weighed it; a scale finds it"
          :message="no('hitch_kg')"
        />
      </div>
      <div class="mt-3 flex flex-wrap items-center gap-x-6 gap-y-2">
        <label v-if="tows && guided && !brought" class="flex min-h-9 items-center gap-2.5">
          <input v-model="form.with_trailers" type="checkbox" class="size-5 accent-teal" />
          With
          {{
            train
              .slice(1)
              .map((t) => t.name)
              .join(' and ')
          }}, hitched and alone
        </label>
        <p v-if="brought" class="text-soft">
          Passes as the ticket has them.
          <button type="button" class="link" @click="leaveTicket">Start afresh</button>
        </p>
        <p v-for="n in told" :key="n" role="status" class="w-full font-semibold text-rust">{{ n }}</p>
        <p v-if="form.made_up || (saved && sheet.weighing?.made_up)" class="stamp">
          Simulated scale: made up, not for the road
        </p>
        <Refusal :message="no('with_trailers')" />
      </div>
      <Opening class="mt-1" label="A ticket from a file, or a connected scale">
        <FileField
          class="max-w-xl"
          label="Scale ticket, JSON or CSV"
          accept=".json,.csv,application/json,text/csv"
          :busy="bring.busy.value"
          :message="bring.fields.value.content || bring.fields.value.with_trailers || bring.message.value"
          @chosen="bring.save"
        />
        <div v-if="guided && scaleChoices.length > 1" class="mt-3 flex flex-wrap items-end gap-4">
          <ChoiceField v-model="connected" class="w-64" label="Connected scale" :choices="scaleChoices" />
          <template v-if="connected">
            <ChoiceField v-model="fault" class="w-56" label="Play what goes wrong" :choices="FAULTS" />
            <button type="button" class="link min-h-10" @click="issue.save('json')">Ticket as JSON</button>
            <button type="button" class="link min-h-10" @click="issue.save('csv')">Ticket as CSV</button>
          </template>
        </div>
        <p v-else-if="scales.data.value?.length" class="mt-2 text-sm text-soft">
          Choose how it is weighed to read a connected scale.
        </p>
        <Refusal :message="issue.message.value" />
      </Opening>
      <PassGuide
        v-if="guided"
        v-model="passes"
        class="mt-4"
        :ticket="typed ? (loads?.ticket ?? null) : null"
        :stale="stale"
        :message="no"
        :ask="connected ? ask : undefined"
        :remark="remark"
        @stand="standing = $event"
      />
    </template>

    <AxleLoads
      v-for="(a, i) in rig.axles"
      :key="a.number"
      :name="a.name"
      :axle="loadOf(a.number)"
      :stale="stale"
    >
      <div v-if="may('weigh') && !guided" class="mt-2 grid grid-cols-2 gap-4 sm:grid-cols-3">
        <template v-if="!form.axles[i]!.lifted">
          <QuantityField
            v-if="a.wheels > 1"
            v-model="form.axles[i]!.left_kg"
            :label="`${a.name} left end`"
            kind="mass"
            :message="no(`axles.${i}.left_kg`)"
          />
          <QuantityField
            v-if="a.wheels > 1"
            v-model="form.axles[i]!.right_kg"
            :label="`${a.name} right end`"
            kind="mass"
            :message="no(`axles.${i}.right_kg`)"
          />
          <QuantityField
            v-model="form.axles[i]!.whole_kg"
            :label="`${a.name} whole axle`"
            kind="mass"
            :message="no(`axles.${i}.whole_kg`)"
          />
        </template>
        <label v-if="a.lift" class="flex min-h-10 items-center gap-2.5 self-end">
          <input v-model="form.axles[i]!.lifted" type="checkbox" class="size-5 accent-teal" /> It was up
        </label>
        <Refusal :message="no(`axles.${i}.lifted`)" />
      </div>
    </AxleLoads>
    <GrossLoads v-if="loads" name="Gross" :loads="loads" :combined="loads.combined_kg" :stale="stale" />
    <template v-for="o in loads?.others ?? []" :key="o.rig">
      <h2 class="mt-8 text-lg">{{ o.name }}</h2>
      <AxleLoads v-for="a in o.axles" :key="a.number" :name="a.name" :axle="a" :stale="stale" />
      <GrossLoads name="Gross, with its load on the hitch" :loads="o" :stale="stale" />
    </template>

    <div class="mt-6 flex flex-wrap items-end gap-4 border-t border-hairline pt-5">
      <template v-if="may('weigh')">
        <TextField
          v-model="form.note"
          class="w-full"
          label="Note: tanks, people, what is aboard"
          :message="no('note')"
        />
        <button class="button" :class="{ 'button-next': typed }" :disabled="busy || !typed">
          {{ amending ? 'Save the amendment' : 'Save the weighing' }}
        </button>
        <RouterLink
          v-if="saved && may('targets')"
          :to="{ name: 'targets', params: { id } }"
          class="button"
          :class="{ 'button-next': !sheet.targets || sheet.targets.out_of_date.length }"
          >Then the target</RouterLink
        >
      </template>
      <p v-else class="text-soft">You may look, not weigh.</p>
      <Refusal
        :message="message || (typed && !Object.keys(work.fields.value).length ? work.message.value : '')"
      />
    </div>
  </form>

  <section v-if="weighings.data.value?.length" class="mt-8">
    <h2>Tickets</h2>
    <div class="relative overflow-x-auto">
      <table class="plain mt-1">
        <thead>
          <tr>
            <th>Weighed</th>
            <th>Load state</th>
            <th>Scale and way</th>
            <th class="figure">Gross</th>
            <th>Who</th>
            <th><span class="sr-only">Files, amend</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in weighings.data.value" :key="w.id" :class="{ 'text-soft line-through': w.amended }">
            <td class="whitespace-nowrap">{{ spokenDay(w.weighed_on) }}</td>
            <td>{{ w.load_state }}</td>
            <td>
              {{ w.scale }}<span v-if="w.made_up" class="stamp ml-2">made up</span>
              <span class="block text-sm text-soft"
                >{{ HOW[w.way] }}<template v-if="w.hitched">, {{ w.hitched }}</template
                ><template v-if="w.bars">, bars {{ w.bars }}</template
                ><template v-if="w.odometer_km !== null">, at {{ show('distance', w.odometer_km) }}</template
                ><template v-if="w.note">. {{ w.note }}</template></span
              >
            </td>
            <td class="figure whitespace-nowrap">
              {{ w.loads.total_kg === null ? 'unknown' : show('mass', w.loads.total_kg) }}
            </td>
            <td>{{ w.by }}</td>
            <td class="text-right text-sm whitespace-nowrap">
              <a :href="`/api/v1/rigs/${id}/weighings/${w.id}/ticket.json`" download>JSON</a>
              <a :href="`/api/v1/rigs/${id}/weighings/${w.id}/ticket.csv`" download class="ml-3">CSV</a>
              <button
                v-if="may('weigh') && !w.amended && w.way !== 'worked out' && !w.part_of"
                type="button"
                class="link ml-3"
                @click="amend(w)"
              >
                Amend
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
