<script setup lang="ts">
/** A table typed in as printed, read while it is typed. */
import { useQuery } from '@tanstack/vue-query'
import { until } from '@vueuse/core'
import { computed, reactive, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { queries } from '@/shared/session'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { say, show, unitOf, type Entry } from '@/shared/units'
import DraftBack from '@/shared/DraftBack.vue'
import { inPlace, useDraft } from '@/shared/useDraft'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import EditionImpact from './EditionImpact.vue'
import TableCurve from './TableCurve.vue'
import { ROWS, useCells } from './useCells'

const route = useRoute()
const router = useRouter()
const from = computed(() => (route.query.from ? Number(route.query.from) : null))
const rig = computed(() => (route.query.rig ? Number(route.query.rig) : null))

const form = reactive({
  size: String(route.query.size ?? ''),
  line: '',
  source: '',
  page: '',
  speed_kmh: null as Entry,
  load_range: '',
  pressure_unit: unitOf('pressure') as Schemas['TableIn']['pressure_unit'],
  mass_unit: unitOf('mass') as Schemas['TableIn']['mass_unit'],
  columns: Array.from({ length: 8 }, () => ({ step: '', single: '', dual: '' })),
})
const cells = useCells(form)
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
        old.load_index_single && `${old.load_index_single}${old.load_index_dual ? `/${old.load_index_dual}` : ''}L`,
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

const draft = useDraft(() => `table ${from.value ?? String(route.query.size ?? 'new')}`, inPlace(form), {
  begin: from.value === null ? undefined : until(tables.data).toBeTruthy(),
})

/** Columns that hold anything; `at` leads a refusal back to its own cell. */
const used = computed(() =>
  form.columns.map((c, at) => ({ ...c, at })).filter((c) => c.step.trim() || c.single.trim() || c.dual.trim()),
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
  draft.saved()
  await Promise.all(['tables', 'sheet', 'yard'].map((key) => queries.invalidateQueries({ queryKey: [key] })))
  await router.push(rig.value ? { name: 'targets', params: { id: rig.value } } : { name: 'tables' })
})
const no = (field: string) => fields.value[field] ?? work.fields.value[field]
function cell(row: (typeof ROWS)[number], at: number): string | undefined {
  const pasted = cells.misread[`${row.wire}.${at}`]
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
      const no = cell(row, at)
      return no ? [`${row.name}, column ${at + 1}: ${no}`] : []
    }),
  ]),
)
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <h1>{{ from ? 'New edition of a table' : 'Enter a load-inflation table' }}</h1>
    <p class="max-w-2xl text-soft">
      As printed by the tire's maker, for this size and service description. Rows can be pasted from a sheet.
    </p>
    <DraftBack :taken="draft.taken.value" @away="draft.throwAway()" />
    <EntryForm :refused="no" class="mt-5" @submit="save()">
      <div class="grid grid-cols-2 gap-4 lg:grid-cols-4">
        <TextField
          v-model="form.size"
          upper
          label="Size"
          hint="With its load index, to check the last column"
          :message="no('size') ?? no('tire_size')"
        />
        <TextField v-model="form.line" label="Tire line" name="line" />
        <TextField v-model="form.source" label="Source" name="source" />
        <TextField v-model="form.page" label="Page" name="page" />
        <QuantityField v-model="form.speed_kmh" label="Holds up to, speed" kind="speed" name="speed_kmh" />
        <TextField v-model="form.load_range" upper label="Load range" name="load_range" />
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
      <div :ref="cells.within" class="mt-6 overflow-x-auto">
        <table>
          <tbody>
            <tr v-for="(row, r) in ROWS" :key="row.key">
              <th scope="row" class="sticky left-0 bg-ground pr-4 text-left font-medium whitespace-nowrap text-soft">
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
                  @keydown="cells.move($event, r, at)"
                  @paste="cells.paste($event, r, at)"
                  @input="delete cells.misread[`${row.wire}.${at}`]"
                />
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="mt-2 flex flex-wrap gap-x-6">
        <button
          v-if="form.columns.length < cells.most"
          type="button"
          class="link"
          @click="cells.widen(form.columns.length + 1)"
        >
          One more column
        </button>
        <button v-if="cells.before" type="button" class="link" @click="cells.undo">Undo the paste or fill</button>
        <span class="text-sm text-soft"
          >Arrows move, Ctrl+R goes on with a row of pressures by its step; a block can be pasted from a sheet or a
          page.</span
        >
      </p>
      <Refusal :message="cells.refused" />
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
      <EditionImpact
        v-if="from && impact.answer.value"
        :class="{ stale: impact.stale.value }"
        :lines="impact.answer.value"
      />
      <div class="mt-5 flex flex-wrap items-center gap-4 border-t border-hairline pt-5">
        <button class="button button-next" :disabled="busy">
          {{ from ? 'Save the new edition' : 'Save the table' }}
        </button>
        <RouterLink :to="rig ? { name: 'targets', params: { id: rig } } : { name: 'tables' }"
          >Leave without saving</RouterLink
        >
        <Refusal :message="message" />
      </div>
    </EntryForm>
  </main>
</template>
