<script setup lang="ts">
/** A fleet from a CSV: looked at row by row before anything is saved. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api } from '@/shared/api/client'
import FileField from '@/shared/FileField.vue'
import Refusal from '@/shared/Refusal.vue'
import { useFileImport } from '@/shared/useFileImport'
import { refreshAll } from './queries'

const router = useRouter()
const { preview, look, take } = useFileImport(
  (body) => answer(api.POST('/api/v1/work/rigs/import', { body })),
  (body) => answer(api.POST('/api/v1/rigs/import', { body })),
  async () => {
    await refreshAll()
    await router.push('/')
  },
)
/** Of a long file first what is to be mended. */
const all = ref(false)
const rows = computed(() => {
  const every = preview.value?.rows ?? []
  return preview.value?.refused && !all.value ? every.filter((r) => r.refused) : every
})
const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`
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
      :busy="look.busy.value"
      :message="look.fields.value.content || look.message.value"
      @chosen="look.save"
    />
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
      <div v-scrolls class="relative overflow-x-auto">
        <table class="plain mt-3">
          <thead>
            <tr>
              <th class="w-16">Line</th>
              <th>What it says</th>
              <th>Refused because</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in rows" :key="r.line">
              <td class="text-soft">{{ r.line }}</td>
              <td>{{ r.words || 'not understood' }}</td>
              <td class="text-rust">
                <template v-if="r.refused"
                  ><b v-if="r.field">{{ r.field }}: </b>{{ r.refused }}</template
                >
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </main>
</template>
