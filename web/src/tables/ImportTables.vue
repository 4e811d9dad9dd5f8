<script setup lang="ts">
/** Several tables from one file: each looked at, its curve and its odd cells, before any is saved. */
import { useRouter } from 'vue-router'
import { answer, api, type Schemas } from '@/shared/api/client'
import FileField from '@/shared/FileField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import { say, show } from '@/shared/units'
import { useFileImport } from '@/shared/useFileImport'
import TableCurve from './TableCurve.vue'

const router = useRouter()
const { preview, look, take } = useFileImport(
  (body) => answer(api.POST('/api/v1/work/tables/import', { body })),
  (body) => answer(api.POST('/api/v1/tables/import', { body })),
  async () => {
    await queries.invalidateQueries({ queryKey: ['tables'] })
    await router.push('/tables')
  },
)
const bad = (tables: Schemas['ImportedOut'][]) => tables.filter((t) => t.problems.length).length
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <h1>Import load-inflation tables</h1>
    <p class="max-w-2xl text-soft">
      CSV with a line for every column of a table, or JSON, several tables in one file. Nothing is saved before you have
      seen what was understood, and then all of it or nothing.
      <a href="/api/v1/tables/blank.csv" download>Fetch a file to start from</a>
    </p>
    <FileField
      class="mt-5 max-w-xl"
      label="The file"
      accept=".csv,.json,text/csv,application/json"
      :busy="look.busy.value"
      :message="look.fields.value.content || look.message.value"
      @chosen="look.save"
    />
    <template v-if="preview">
      <div class="mt-6 flex flex-wrap items-center justify-between gap-4">
        <p role="status">
          <b>{{ preview.tables.length }} {{ preview.tables.length === 1 ? 'table' : 'tables' }}</b>
          read<template v-if="!preview.ready"
            >, <b class="text-rust">{{ bad(preview.tables) }} refused</b>: mend the file and choose it again</template
          >.
        </p>
        <button
          type="button"
          class="button button-next"
          :disabled="take.busy.value || !preview.ready"
          @click="take.save()"
        >
          Import {{ preview.tables.length === 1 ? 'it' : 'them' }}
        </button>
      </div>
      <Refusal :message="take.message.value" />
      <ul>
        <li v-for="t in preview.tables" :key="t.line" class="border-t border-hairline py-4">
          <h2>
            {{ t.grid?.size ?? t.name }} <span class="font-normal text-soft">from line {{ t.line }}</span>
          </h2>
          <p v-for="p in t.problems" :key="p" class="font-medium text-rust">{{ p }}</p>
          <template v-if="t.grid">
            <p class="text-sm text-soft">
              {{ t.grid.steps_kpa.length }} columns, up to {{ show('pressure', t.grid.steps_kpa.at(-1)!) }} and
              {{ show('mass', t.grid.single_kg.at(-1)!) }} single{{
                t.grid.dual_kg ? `, ${show('mass', t.grid.dual_kg.at(-1)!)} dual` : ', no dual row'
              }}.
            </p>
            <p v-for="s in t.grid.suspicions" :key="`${s.row}${s.index}`" class="text-sm font-medium text-rust">
              {{ s.row === 'single' ? 'Single' : 'Dual' }}, column {{ s.index + 1 }}, {{ show('mass', s.load_kg) }}:
              {{ say(s.words) }} Its neighbors suggest about {{ show('mass', s.suggested_kg) }}.
            </p>
            <p v-for="(o, i) in t.grid.odd" :key="i" class="text-sm font-medium text-rust">{{ say(o) }}</p>
            <TableCurve class="mt-1 max-w-xl" :grid="t.grid" />
          </template>
        </li>
      </ul>
    </template>
  </main>
</template>
