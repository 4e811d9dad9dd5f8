<script setup lang="ts">
/** The load-inflation tables of the workspace. It starts with none: people enter their maker's. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { queries, useSession } from '@/shared/session'
import { answer, api } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import SampleStamp from '@/shared/SampleStamp.vue'
import { say, spokenDay } from '@/shared/units'
import { useSave } from '@/shared/useSave'
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
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <div>
        <h1>Load-inflation tables</h1>
        <p class="max-w-2xl text-soft">
          What a tire carries at each cold pressure, as its maker prints it. A workspace starts with none:
          enter the table of the maker for the size that is fitted.
        </p>
      </div>
      <RouterLink
        v-if="may('tables')"
        to="/tables/new"
        class="button"
        :class="{ 'button-next': data && !data.length }"
        >Enter a table</RouterLink
      >
    </div>
    <p v-if="data && !data.length" class="mt-8 text-soft">No table yet.</p>
    <ul class="mt-5">
      <li
        v-for="t in data ?? []"
        :key="t.id"
        class="border-t border-hairline py-4"
        :class="{ 'text-soft': t.replaced }"
      >
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
        <p v-else class="text-soft">{{ t.source }}</p>
        <p v-if="t.replaced">Replaced by a newer edition.</p>
        <TableGrid class="mt-1" :table="t" />
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
