<script setup lang="ts">
/** A fleet from a CSV: looked at row by row before anything is saved. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api } from '@/shared/api/client'
import FileField from '@/shared/FileField.vue'
import Refusal from '@/shared/Refusal.vue'
import { fileIn } from '@/shared/fileIn'
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
  const rows = file.size > most_file_bytes ? Infinity : (await file.text()).split('\n').length
  await (rows > most_file_rows ? long.look.save(file) : look.save(await fileIn(file)))
}
const problem = computed(
  () => look.fields.value.content || look.message.value || long.unread.value || long.look.message.value,
)
/** Of a long file first what is to be mended. */
const all = ref(false)
const rows = computed(() => {
  const every = preview.value?.rows ?? []
  return preview.value?.refused && !all.value ? every.filter((r) => r.refused) : every
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
    <template v-if="long.seen.value">
      <div class="mt-6 flex flex-wrap items-center justify-between gap-4">
        <p role="status">
          <b
            >{{ count(long.seen.value.rigs, 'rig', 'rigs') }} and {{ count(long.seen.value.tires, 'tire', 'tires') }}</b
          >
          understood<template v-if="long.seen.value.refused"
            >, <b class="text-rust">{{ count(long.seen.value.refused, 'row is', 'rows are') }} refused</b>: mend them in
            the file and choose it again</template
          >.
        </p>
        <p v-if="!long.seen.value.whole" class="flex items-center gap-4">
          <progress
            :value="long.seen.value.done"
            :max="long.seen.value.of || 1"
            aria-label="How much of the file is read"
          />
          <button type="button" class="link" @click="long.leave()">Stop</button>
        </p>
        <button
          v-else
          type="button"
          class="button button-next"
          :disabled="long.take.busy.value || long.seen.value.refused > 0"
          @click="long.take.save()"
        >
          Import them
        </button>
      </div>
      <Refusal :message="long.take.message.value" />
      <RefusedRows v-if="long.seen.value.refused" :rows="long.seen.value.rows" />
      <p v-if="long.seen.value.refused > long.seen.value.rows.length" class="mt-2 text-soft">
        and {{ (long.seen.value.refused - long.seen.value.rows.length).toLocaleString('en-US') }} more
      </p>
    </template>
    <template v-if="preview">
      <div class="mt-6 flex flex-wrap items-center justify-between gap-4">
        <p role="status">
          <b>{{ count(preview.rigs, 'rig', 'rigs') }} and {{ count(preview.tires, 'tire', 'tires') }}</b>
          understood<template v-if="preview.refused"
            >, <b class="text-rust">{{ count(preview.refused, 'row is', 'rows are') }} refused</b>: mend them in the
            file and choose it again</template
          >.
        </p>
        <button
          type="button"
          class="button button-next"
          :disabled="take.busy.value || preview.refused > 0 || !preview.rows.length"
          @click="take.save()"
        >
          Import them
        </button>
      </div>
      <Refusal :message="take.message.value" />
      <button v-if="preview.refused" type="button" class="link mt-3" :aria-expanded="all" @click="all = !all">
        {{ all ? 'Only the rows that are refused' : `All ${preview.rows.length} rows` }}
      </button>
      <RefusedRows :rows="rows" />
    </template>
  </main>
</template>
