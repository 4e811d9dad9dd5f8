<script setup lang="ts">
/** A table typed in as printed, read while it is typed. */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { queries, useSession } from '@/shared/session'
import { answer, api, refusedOf, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { say, show, system, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import TableCurve from './TableCurve.vue'

const route = useRoute()
const router = useRouter()
const { session, may } = useSession()
const from = computed(() => (route.query.from ? Number(route.query.from) : null))
const rig = computed(() => (route.query.rig ? Number(route.query.rig) : null))

const form = reactive({
  size: String(route.query.size ?? ''),
  line: '',
  source: '',
  page: '',
  speed_kmh: null as Entry,
  load_range: '',
  pressure_unit: (system.value === 'us' ? 'psi' : 'kPa') as Schemas['TableIn']['pressure_unit'],
  mass_unit: (system.value === 'us' ? 'lb' : 'kg') as Schemas['TableIn']['mass_unit'],
  columns: Array.from({ length: 8 }, () => ({ step: '', single: '', dual: '' })),
})
const tables = useQuery({
  queryKey: ['tables'],
  queryFn: () => answer(api.GET('/api/v1/tables')),
  enabled: computed(() => from.value !== null),
})
watch(
  tables.data,
  (now) => {
    const old = now?.find((t) => t.id === from.value)
    if (!old || form.source) return
    Object.assign(form, {
      size: [
        old.size,
        old.load_index_single &&
          `${old.load_index_single}${old.load_index_dual ? `/${old.load_index_dual}` : ''}L`,
      ]
        .filter(Boolean)
        .join(' '),
      line: old.line,
      source: old.source,
      page: old.page,
      speed_kmh: old.speed_kmh,
      load_range: old.load_range,
      pressure_unit: old.pressure_unit,
      mass_unit: old.mass_unit,
      columns: old.steps.map((s, i) => ({
        step: String(s),
        single: String(old.single[i]),
        dual: old.dual ? String(old.dual[i]) : '',
      })),
    })
  },
  { immediate: true },
)

/** Columns that hold anything; `at` leads a refusal back to its own cell. */
const used = computed(() =>
  form.columns
    .map((c, at) => ({ ...c, at }))
    .filter((c) => c.step.trim() || c.single.trim() || c.dual.trim()),
)
const grid = computed(() => ({
  size: form.size,
  pressure_unit: form.pressure_unit,
  mass_unit: form.mass_unit,
  steps: used.value.map((c) => c.step),
  single: used.value.map((c) => c.single),
  dual: used.value.some((c) => c.dual.trim()) ? used.value.map((c) => c.dual) : null,
}))
const work = useWork(
  computed(() => (form.size && used.value.length > 1 ? grid.value : null)),
  (body) => answer(api.POST('/api/v1/work/tables', { body: body as Schemas['GridIn'] })),
)
const whole = computed(
  () =>
    ({
      ...grid.value,
      line: form.line,
      source: form.source || '–',
      page: form.page,
      speed_kmh: form.speed_kmh,
      load_range: form.load_range,
      replaces: from.value,
    }) as Schemas['TableIn'],
)
/** What a new edition changes on the rigs, before it is taken into use. */
const impact = useWork(
  computed(() => (from.value !== null && work.answer.value && !work.stale.value ? whole.value : null)),
  (body) => answer(api.POST('/api/v1/work/targets/edition', { body })),
)
const { save, busy, fields, message } = useSave(async () => {
  await answer(api.POST('/api/v1/tables', { body: { ...whole.value, source: form.source } }))
  await Promise.all(['tables', 'sheet', 'yard'].map((key) => queries.invalidateQueries({ queryKey: [key] })))
  await router.push(rig.value ? { name: 'targets', params: { id: rig.value } } : { name: 'tables' })
})
const no = (field: string) => fields.value[field] ?? work.fields.value[field]
const ROWS = [
  { key: 'step', wire: 'steps', name: 'Cold pressure' },
  { key: 'single', wire: 'single', name: 'Load, single' },
  { key: 'dual', wire: 'dual', name: 'Load, dual' },
] as const
function cell(row: (typeof ROWS)[number], at: number): string | undefined {
  const pasted = told.value[`${row.wire}.${at}`]
  if (pasted) return pasted
  const index = used.value.findIndex((c) => c.at === at)
  return index < 0 ? undefined : no(`${row.wire}.${index}`)
}
function suspicion(row: (typeof ROWS)[number], at: number) {
  const index = used.value.findIndex((c) => c.at === at)
  return work.answer.value?.suspicions.find((s) => s.row === row.key && s.index === index)
}
const problems = computed(() =>
  ROWS.flatMap((row) => [
    ...(no(row.wire) ? [`${row.name}: ${no(row.wire)}`] : []),
    ...form.columns.flatMap((_, at) => {
      const told = cell(row, at)
      return told ? [`${row.name}, column ${at + 1}: ${told}`] : []
    }),
  ]),
)

const body = ref<HTMLElement>()
type Columns = typeof form.columns
/** As it was before the last paste, fill or clearing. */
const before = ref<Columns | null>(null)
/** Cells of the last paste that were not understood, by row and column. */
const told = ref<Record<string, string>>({})
const pasteRefusal = ref('')
function remember() {
  before.value = form.columns.map((c) => ({ ...c }))
}
function undo() {
  if (before.value) form.columns = before.value
  before.value = null
  told.value = {}
}
function widen(to: number) {
  while (form.columns.length < Math.min(to, MOST.value)) form.columns.push({ step: '', single: '', dual: '' })
}
const MOST = computed(() => session.value?.most_columns ?? 0)

/** Arrows and Enter move as in a sheet; Ctrl+R fills on to the right. */
function move(event: KeyboardEvent, row: number, at: number) {
  const input = event.target as HTMLInputElement
  if (event.key.toLowerCase() === 'r' && (event.ctrlKey || event.metaKey)) {
    event.preventDefault()
    fill(row, at)
    return
  }
  // Left and right leave the cell only at its ends, or when all of it is selected.
  const all = input.selectionStart === 0 && input.selectionEnd === input.value.length
  const start = all || (input.selectionStart === 0 && input.selectionEnd === 0)
  const end =
    all || (input.selectionStart === input.value.length && input.selectionEnd === input.value.length)
  const by = {
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    Enter: [0, 1],
    ...(start ? { ArrowLeft: [0, -1] } : {}),
    ...(end ? { ArrowRight: [0, 1] } : {}),
  }[event.key]
  if (!by) return
  event.preventDefault()
  if (by[1] === 1) widen(at + 2)
  void nextTick(() => {
    const next = body.value?.querySelector<HTMLInputElement>(`[data-cell="${row + by[0]!}-${at + by[1]!}"]`)
    next?.focus()
    next?.select()
  })
}
/** Goes on from a cell: a row of pressures by its own step, to where the other rows end or ten columns on. */
function fill(row: number, at: number) {
  const key = ROWS[row]!.key
  const number = (c: Columns[number] | undefined) => Number(c?.[key].replace(',', '.'))
  const [one, two] = [number(form.columns[at - 1]), number(form.columns[at])]
  if (!Number.isFinite(two) || !form.columns[at]![key]) return
  const step = at > 0 && form.columns[at - 1]![key] && Number.isFinite(one) ? two - one : 0
  if (key !== 'step' || step <= 0) return
  remember()
  const lasts = form.columns.map((c, i) => (c.single || c.dual ? i : -1))
  const last = Math.max(...lasts) > at ? Math.max(...lasts) : Math.min(at + 8, MOST.value - 1)
  widen(last + 1)
  for (let i = at + 1; i <= last; i++)
    form.columns[i]!.step = String(Number((two + step * (i - at)).toFixed(4)))
}
/** A block copied from a sheet or a page is read by the server, and spread over the cells. */
async function paste(event: ClipboardEvent, row: number, at: number) {
  const text = event.clipboardData?.getData('text') ?? ''
  if (!/[\t\n;|]|\S\s+\S/.test(text.trim())) return
  event.preventDefault()
  pasteRefusal.value = ''
  try {
    const read = await answer(
      api.POST('/api/v1/work/tables/paste', {
        body: {
          text: text.slice(0, 400_000),
          line: ROWS[row]!.wire,
          pressure_unit: form.pressure_unit,
          mass_unit: form.mass_unit,
        },
      }),
    )
    remember()
    told.value = {}
    if (read.pressure_unit) form.pressure_unit = read.pressure_unit
    if (read.mass_unit) form.mass_unit = read.mass_unit
    for (const to of ROWS) {
      const cells = read.lines[to.wire] ?? []
      widen(at + cells.length)
      cells.forEach((value, c) => {
        if (form.columns[at + c]) form.columns[at + c]![to.key] = value
      })
    }
    for (const t of read.told) told.value[`${t.line}.${at + t.index}`] = t.message
  } catch (error) {
    pasteRefusal.value = refusedOf(error).message
  }
}
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <h1>{{ from ? 'New edition of a table' : 'Enter a load-inflation table' }}</h1>
    <p class="max-w-2xl text-soft">
      As printed by the tire's maker, for this size and service description. Rows can be pasted from a sheet.
    </p>
    <form class="mt-5" novalidate @submit.prevent="save()">
      <div class="grid grid-cols-2 gap-4 lg:grid-cols-4">
        <TextField
          v-model="form.size"
          upper
          label="Size"
          hint="With its load index, to check the last column"
          :message="no('size') ?? no('tire_size')"
        />
        <TextField v-model="form.line" label="Tire line" :message="no('line')" />
        <TextField v-model="form.source" label="Source" :message="no('source')" />
        <TextField v-model="form.page" label="Page" :message="no('page')" />
        <QuantityField
          v-model="form.speed_kmh"
          label="Holds up to, speed"
          kind="speed"
          :message="no('speed_kmh')"
        />
        <TextField v-model="form.load_range" upper label="Load range" :message="no('load_range')" />
        <ChoiceField
          v-model="form.pressure_unit"
          label="Pressures in"
          :choices="(['psi', 'kPa', 'bar'] as const).map((u) => ({ key: u, name: u }))"
        />
        <ChoiceField
          v-model="form.mass_unit"
          label="Loads in"
          :choices="(['lb', 'kg'] as const).map((u) => ({ key: u, name: u }))"
        />
      </div>
      <div ref="body" class="mt-6 overflow-x-auto">
        <table>
          <tbody>
            <tr v-for="(row, r) in ROWS" :key="row.key">
              <th
                scope="row"
                class="sticky left-0 bg-ground pr-4 text-left font-medium whitespace-nowrap text-soft"
              >
                {{ row.name }}
              </th>
              <td v-for="(c, at) in form.columns" :key="at" class="p-0.5">
                <input
                  v-model="c[row.key]"
                  class="input figure w-20"
                  :class="{ 'border-rust bg-rustwash': suspicion(row, at) }"
                  inputmode="decimal"
                  autocomplete="off"
                  :aria-label="`${row.name}, column ${at + 1}`"
                  :aria-invalid="cell(row, at) ? true : undefined"
                  :data-cell="`${r}-${at}`"
                  @keydown="move($event, r, at)"
                  @paste="paste($event, r, at)"
                  @input="delete told[`${row.wire}.${at}`]"
                />
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="mt-2 flex flex-wrap gap-x-6">
        <button
          v-if="form.columns.length < MOST"
          type="button"
          class="link"
          @click="widen(form.columns.length + 1)"
        >
          One more column
        </button>
        <button v-if="before" type="button" class="link" @click="undo">Undo the paste or fill</button>
        <span class="text-sm text-soft"
          >Arrows move, Ctrl+R goes on with a row of pressures by its step; a block can be pasted from a sheet
          or a page.</span
        >
      </p>
      <Refusal :message="pasteRefusal" />
      <ul class="mt-3" :class="{ stale: work.stale.value && !Object.keys(work.fields.value).length }">
        <li v-for="p in problems" :key="p"><Refusal :message="p" /></li>
        <li
          v-for="s in work.answer.value?.suspicions ?? []"
          :key="`${s.row}${s.index}`"
          class="text-sm font-medium text-rust"
        >
          {{ s.row === 'single' ? 'Single' : 'Dual' }}, column {{ (used[s.index]?.at ?? s.index) + 1 }}:
          {{ say(s.words) }} Its neighbors suggest about {{ show('mass', s.suggested_kg) }}.
        </li>
        <li v-for="(o, i) in work.answer.value?.odd ?? []" :key="i" class="text-sm font-medium text-rust">
          {{ say(o) }}
        </li>
        <li v-if="work.answer.value && !problems.length" class="text-sm text-soft">
          Understood: {{ work.answer.value.size }}, {{ work.answer.value.steps_kpa.length }} columns, up to
          {{ show('mass', work.answer.value.single_kg.at(-1) ?? 0) }} single{{
            work.answer.value.dual_kg
              ? `, ${show('mass', work.answer.value.dual_kg.at(-1) ?? 0)} dual`
              : ', no dual row'
          }}.
        </li>
      </ul>
      <TableCurve
        v-if="work.answer.value"
        class="mt-4 max-w-2xl"
        :class="{ stale: work.stale.value }"
        :grid="work.answer.value"
      />
      <section
        v-if="from && impact.answer.value"
        class="mt-5 border-t border-hairline pt-4"
        :class="{ stale: impact.stale.value }"
      >
        <h2>What it changes</h2>
        <p v-if="!impact.answer.value.length" class="text-soft">No target in force comes from this table.</p>
        <ul v-else>
          <li
            v-for="l in impact.answer.value"
            :key="`${l.rig}-${l.number}`"
            class="flex flex-wrap justify-between gap-x-6 border-t border-hairline py-1.5"
          >
            <span>{{ l.rig_name }}, {{ l.name.toLowerCase() }}</span>
            <span v-if="l.then_kpa === null" class="font-semibold text-rust">{{ say(l.words) }}</span>
            <span v-else class="figure"
              >{{ l.now_kpa === null ? 'no pressure' : show('pressure', l.now_kpa, 'up') }} →
              <b>{{ show('pressure', l.then_kpa, 'up') }}</b>{{
                l.now_kpa !== null && Math.abs(l.then_kpa - l.now_kpa) < 0.05 ? ', the same' : ''
              }}</span
            >
          </li>
        </ul>
        <p class="mt-1 text-sm text-soft">
          Targets in force keep the edition they came from, and are out of date once this one is saved.
        </p>
      </section>
      <div class="mt-5 flex flex-wrap items-center gap-4 border-t border-hairline pt-5">
        <button class="button button-next" :disabled="busy || !may('tables')">
          {{ from ? 'Save the new edition' : 'Save the table' }}
        </button>
        <RouterLink :to="rig ? { name: 'targets', params: { id: rig } } : { name: 'tables' }"
          >Leave without saving</RouterLink
        >
        <Refusal :message="message" />
      </div>
    </form>
  </main>
</template>
