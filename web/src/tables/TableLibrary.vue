<script setup lang="ts">
/** The load-inflation tables of the workspace. It starts with none: people enter their maker's. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { queries, useSession } from '@/shared/session'
import { answer, api } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import SampleStamp from '@/shared/SampleStamp.vue'
import TextField from '@/shared/TextField.vue'
import { say, show, spokenDay } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import TableCurve from './TableCurve.vue'
import TableGrid from './TableGrid.vue'

const { may } = useSession()
const { data } = useQuery({ queryKey: ['tables'], queryFn: () => answer(api.GET('/api/v1/tables')) })
const samples = useQuery({ queryKey: ['samples'], queryFn: () => answer(api.GET('/api/v1/tables/samples')) })
const taking = ref('')
const { save: take, message } = useSave(async (key: string) => {
  taking.value = key
  await answer(api.POST('/api/v1/tables/samples', { body: { key } }))
  await Promise.all([
    queries.invalidateQueries({ queryKey: ['tables'] }),
    queries.invalidateQueries({ queryKey: ['samples'] }),
  ])
})
const checking = ref<number | null>(null)
const { save: check, message: checkMessage } = useSave(async (table: number, checked: boolean) => {
  checking.value = table
  await answer(api.PUT('/api/v1/tables/{table_id}/check', { params: { path: { table_id: table } }, body: { checked } }))
  await Promise.all(['tables', 'sheet'].map((key) => queries.invalidateQueries({ queryKey: [key] })))
})
const own = computed(() => (data.value ?? []).filter((t) => !t.sample))
const sought = ref('')
const shown = computed(() => {
  const words = sought.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (data.value ?? []).filter((t) =>
    words.every((w) => `${t.size} ${t.line} ${t.source} ${t.load_range}`.toLowerCase().includes(w)),
  )
})
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <div>
        <h1>Load-inflation tables</h1>
        <p class="max-w-2xl text-soft">
          What a tire carries at each cold pressure, as its maker prints it. A workspace starts with none: enter the
          table of the maker for the size that is fitted.
        </p>
      </div>
      <div class="flex flex-wrap items-center gap-4">
        <RouterLink v-if="may('tables')" to="/tables/import">Import</RouterLink>
        <template v-if="own.length">
          <a href="/api/v1/tables/export.csv" download>CSV</a>
          <a href="/api/v1/tables/export.json" download>JSON</a>
        </template>
        <RouterLink
          v-if="may('tables')"
          to="/tables/new"
          class="button"
          :class="{ 'button-next': data && !data.length }"
          >Enter a table</RouterLink
        >
      </div>
    </div>
    <p v-if="data && !data.length" class="mt-8 text-soft">No table yet.</p>
    <TextField
      v-if="(data?.length ?? 0) > 5"
      v-model="sought"
      class="mt-4 max-w-xs"
      label="Find a size, line or source"
    />
    <p v-if="sought && !shown.length" class="mt-3 text-soft">No table with “{{ sought }}”.</p>
    <ul class="mt-5">
      <li v-for="t in shown" :key="t.id" class="border-t border-hairline py-4" :class="{ 'text-soft': t.replaced }">
        <div class="flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1">
          <h2>
            {{ t.size }}
            <span class="font-normal text-soft"
              >{{ t.line }}{{ t.load_range ? `, load range ${t.load_range}` : '' }}</span
            >
          </h2>
          <p class="flex gap-4 text-sm text-soft">
            {{ t.entered_by }}, {{ spokenDay(t.entered_at) }}
            <RouterLink
              v-if="may('tables') && !t.replaced && !t.sample"
              :to="{ name: 'table-new', query: { from: t.id } }"
              >New edition</RouterLink
            >
          </p>
        </div>
        <SampleStamp v-if="t.sample" class="my-1" />
        <p v-else class="text-soft">
          {{ t.source }}{{ t.page ? `, ${t.page}` : ''
          }}{{ t.speed_kmh !== null ? `, holds up to ${show('speed', t.speed_kmh, 'down')}` : '' }}
        </p>
        <p v-if="!t.sample && !t.replaced" class="flex flex-wrap gap-x-4 text-sm">
          <span v-if="t.checked_by" class="text-green"
            >Checked against its source by {{ t.checked_by }}, {{ spokenDay(t.checked_at!) }}</span
          >
          <span v-else class="font-medium text-rust">Not checked by a second person</span>
          <button v-if="t.may_check && !t.checked_by" type="button" class="link" @click="check(t.id, true)">
            I have checked every cell against its source
          </button>
          <button v-if="t.checked_by && may('tables')" type="button" class="link" @click="check(t.id, false)">
            Take the check back
          </button>
        </p>
        <Refusal :message="checking === t.id ? checkMessage : ''" />
        <p v-if="t.replaced">Replaced by a newer edition.</p>
        <TableGrid class="mt-1" :table="t" />
        <Opening v-if="!t.sample" label="Its curve" class="text-sm"><TableCurve class="max-w-2xl" :grid="t" /></Opening>
        <p v-for="(o, i) in t.odd" :key="i" class="mt-1 text-sm font-medium text-rust">{{ say(o) }}</p>
      </li>
    </ul>
    <section v-if="may('tables')" class="mt-8 border-t border-hairline pt-4">
      <Opening label="Sample tables, to try things out">
        <SampleStamp class="my-2" />
        <ul>
          <li
            v-for="s in samples.data.value ?? []"
            :key="s.key"
            class="flex max-w-xl items-center justify-between border-t border-hairline py-2"
          >
            <span>{{ s.name }}</span>
            <span v-if="s.taken" class="text-soft">taken</span>
            <button v-else type="button" class="link" @click="take(s.key)">Take it</button>
          </li>
        </ul>
        <Refusal :message="message" />
      </Opening>
    </section>
  </main>
</template>
