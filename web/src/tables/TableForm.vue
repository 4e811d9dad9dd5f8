<script setup lang="ts">
/** A table typed in as printed, read while it is typed. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { queries, useSession } from '@/shared/session'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { say, show, system } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'

const route = useRoute()
const router = useRouter()
const { may } = useSession()
const from = computed(() => (route.query.from ? Number(route.query.from) : null))
const rig = computed(() => (route.query.rig ? Number(route.query.rig) : null))

const form = reactive({
  size: String(route.query.size ?? ''),
  line: '',
  source: '',
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
const { save, busy, fields, message } = useSave(async () => {
  const { line, source, load_range } = form
  await answer(
    api.POST('/api/v1/tables', {
      body: { ...grid.value, line, source, load_range, replaces: from.value } as Schemas['TableIn'],
    }),
  )
  await queries.invalidateQueries({ queryKey: ['tables'] })
  await router.push(rig.value ? { name: 'targets', params: { id: rig.value } } : { name: 'tables' })
})
const no = (field: string) => fields.value[field] ?? work.fields.value[field]
const ROWS = [
  { key: 'step', wire: 'steps', name: 'Cold pressure' },
  { key: 'single', wire: 'single', name: 'Load, single' },
  { key: 'dual', wire: 'dual', name: 'Load, dual' },
] as const
function cell(row: (typeof ROWS)[number], at: number): string | undefined {
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
/** Arrows and Enter move as in a sheet; a block copied from one is spread over the cells. */
function move(event: KeyboardEvent, row: number, at: number) {
  const by = { ArrowDown: [1, 0], ArrowUp: [-1, 0], Enter: [0, 1] }[event.key]
  if (!by) return
  event.preventDefault()
  body.value?.querySelector<HTMLInputElement>(`[data-cell="${row + by[0]!}-${at + by[1]!}"]`)?.focus()
}
function paste(event: ClipboardEvent, row: number, at: number) {
  const block =
    event.clipboardData
      ?.getData('text')
      .trimEnd()
      .split(/\r?\n/)
      .map((line) => line.split(/\t/)) ?? []
  if (block.length < 2 && (block[0]?.length ?? 0) < 2) return
  event.preventDefault()
  // A column pasted downward is a row here; a table is turned when it is taller than it is wide.
  const cells =
    block.length > 3 && (block[0]?.length ?? 0) <= 3
      ? block[0]!.map((_, c) => block.map((line) => line[c] ?? ''))
      : block
  cells.forEach((line, r) =>
    line.forEach((value, c) => {
      const target = ROWS[row + r]
      if (!target || at + c >= 40) return
      while (form.columns.length <= at + c) form.columns.push({ step: '', single: '', dual: '' })
      form.columns[at + c]![target.key] = value.trim()
    }),
  )
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
        <TextField v-model="form.source" label="Source and page" :message="no('source')" />
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
                />
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <button
        v-if="form.columns.length < 40"
        type="button"
        class="link mt-2"
        @click="form.columns.push({ step: '', single: '', dual: '' })"
      >
        One more column
      </button>
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
