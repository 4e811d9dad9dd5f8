<script setup lang="ts">
/** A fleet from a CSV: looked at row by row before anything is saved. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api } from '@/shared/api/client'
import FileField from '@/shared/FileField.vue'
import Refusal from '@/shared/Refusal.vue'
import { fileIn, rowsOf, textOf } from '@/shared/files'
import { useSession } from '@/shared/session'
import { useFileImport } from '@/shared/useFileImport'
import RefusedRows from './RefusedRows.vue'
import { useFleetFile } from './useFleetFile'
import { refreshAll } from './queries'

const router = useRouter()
const { session } = useSession()
async function imported() {
  await refreshAll()
  await router.push('/')
}
const { preview, look, take } = useFileImport(
  (body) => answer(api.POST('/api/v1/work/rigs/import', { body })),
  (body) => answer(api.POST('/api/v1/rigs/import', { body })),
  imported,
)
/** A long file goes in slices, and of its rows only those are shown that are refused. */
const long = useFleetFile(imported)
async function choose(file: File) {
  preview.value = null
  await long.leave()
  const { most_file_bytes = 0, most_file_rows = 0 } = session.value ?? {}
  const rows = file.size > most_file_bytes ? Infinity : rowsOf((await textOf(file)) ?? '').length
  await (rows > most_file_rows ? long.look.save(file) : look.save(await fileIn(file)))
}
const problem = computed(
  () => look.fields.value.content || look.message.value || long.unread.value || long.look.message.value,
)
/** Of many rows first those to be mended. */
const all = ref(false)
/** What came of the file, however it goes in; of a long one as far as it is read. */
const shown = computed(() => {
  if (long.seen.value) return { ...long.seen.value, every: 0, take: long.take }
  if (!preview.value) return null
  const { rigs, tires, refused, rows } = preview.value
  const mended = refused && !all.value ? rows.filter((r) => r.refused) : rows
  return { rigs, tires, refused, rows: mended, every: rows.length, whole: true, done: 1, of: 1, take }
})
const count = (n: number, one: string, many: string) => `${n.toLocaleString('en-US')} ${n === 1 ? one : many}`
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <h1>Import a fleet</h1>
    <p class="max-w-2xl text-soft">
      A CSV with a row for every rig, axle, spare and tire. Nothing is saved before you have seen what was understood,
      and then all of it or nothing.
      <a href="/api/v1/rigs/import.csv" download>Fetch a file to start from</a>
    </p>
    <FileField
      class="mt-5 max-w-xl"
      label="The file"
      accept=".csv,text/csv"
      whole
      :busy="look.busy.value || long.look.busy.value"
      :message="problem"
      @picked="choose"
    />
    <template v-if="shown">
      <div class="mt-6 flex flex-wrap items-center justify-between gap-4">
        <p role="status">
          <b>{{ count(shown.rigs, 'rig', 'rigs') }} and {{ count(shown.tires, 'tire', 'tires') }}</b>
          understood<template v-if="shown.refused"
            >, <b class="text-rust">{{ count(shown.refused, 'row is', 'rows are') }} refused</b>: mend
            {{ shown.refused === 1 ? 'it' : 'them' }} in the file and choose it again</template
          >{{ shown.whole ? '.' : ' so far.' }}
        </p>
        <p v-if="!shown.whole" class="flex items-center gap-4">
          <progress :value="shown.done" :max="shown.of || 1" aria-label="How much of the file is read" />
          <button type="button" class="link" @click="long.leave()">Stop</button>
        </p>
        <button
          v-else
          type="button"
          class="button button-next"
          :disabled="shown.take.busy.value || shown.refused > 0 || !(shown.rigs || shown.tires)"
          @click="shown.take.save()"
        >
          Import them
        </button>
      </div>
      <Refusal :message="shown.take.message.value" />
      <button
        v-if="shown.refused && shown.every"
        type="button"
        class="link mt-3"
        :aria-expanded="all"
        @click="all = !all"
      >
        {{ all ? 'Only the rows that are refused' : `All ${shown.every} rows` }}
      </button>
      <RefusedRows v-if="shown.rows.length" :rows="shown.rows" />
      <p v-if="shown.whole && !shown.every && shown.refused > shown.rows.length" class="mt-2 text-soft">
        and {{ (shown.refused - shown.rows.length).toLocaleString('en-US') }} more
      </p>
    </template>
  </main>
</template>
