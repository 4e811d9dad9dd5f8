<script setup lang="ts">
/** Who read what with which gauge when, over all rigs. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import PageTurner from '@/shared/PageTurner.vue'
import TextField from '@/shared/TextField.vue'
import { moment, show } from '@/shared/units'
import { useHere } from '@/shared/useHere'
import { usePages } from '@/shared/usePages'

const SORTS = [
  { key: 'newest' as const, name: 'Newest first' },
  { key: 'oldest' as const, name: 'Oldest first' },
]
const asked = useHere('checks', {
  find: '',
  member: null as number | null,
  gauge: null as number | null,
  since: '',
  until: '',
  sort: 'newest' as (typeof SORTS)[number]['key'],
})
// A year is typed digit by digit.
const settled = refDebounced(
  computed(() => ({ ...asked.value })),
  300,
)
const people = useQuery({ queryKey: ['people'], queryFn: () => answer(api.GET('/api/v1/people')) })
const gauges = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')) })
const who = computed(() => [
  { key: null as number | null, name: 'Anybody' },
  ...(people.data.value ?? []).map((p) => ({ key: p.id as number | null, name: p.name })),
])
const which = computed(() => [
  { key: null as number | null, name: 'Any gauge' },
  ...(gauges.data.value ?? []).map((g) => ({ key: g.id as number | null, name: g.label })),
])
/** What is asked for, and nothing that is left open. */
const query = computed(() => {
  const { find, member, gauge, since, until, sort } = settled.value
  return {
    sort,
    ...(find && { find }),
    ...(member !== null && { member }),
    ...(gauge !== null && { gauge }),
    ...(since && { since }),
    ...(until && { until }),
  }
})
const list = usePages(
  computed(() => ['yard', 'checks', query.value]),
  (past) => answer(api.GET('/api/v1/checks', { params: { query: { ...query.value, ...(past && { past }) } } })),
  (page) => page.checks,
  (page) => (page.more ? page.checks.at(-1)!.id : null),
)
const { page, rows } = list
const csv = computed(() => {
  const asked = Object.entries(query.value).map(([k, v]) => [k, String(v)])
  return `/api/v1/checks.csv?${new URLSearchParams(asked).toString()}`
})
</script>

<template>
  <main id="stage" class="mx-auto max-w-6xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <h1>Checks</h1>
      <a :href="csv" download>CSV</a>
    </div>
    <div class="mt-4 grid grid-cols-2 items-end gap-3 sm:flex sm:flex-wrap">
      <label class="col-span-2 block">
        <span class="label">Rig, place or result</span>
        <input v-model="asked.find" class="input w-full sm:w-44" type="search" />
      </label>
      <ChoiceField v-model="asked.member" class="sm:w-40" label="Read by" :choices="who" />
      <ChoiceField v-model="asked.gauge" class="sm:w-36" label="With" :choices="which" />
      <TextField v-model="asked.since" class="sm:w-40" label="From" type="date" />
      <TextField v-model="asked.until" class="sm:w-40" label="To" type="date" />
      <ChoiceField v-model="asked.sort" class="sm:w-40" label="Order" :choices="SORTS" />
    </div>
    <ul class="mt-4">
      <li
        v-for="c in rows"
        :key="c.id"
        class="grid items-baseline gap-x-5 border-t border-hairline py-2 sm:grid-cols-[12rem_minmax(0,1fr)_11rem]"
      >
        <span class="text-soft">{{ moment(c.read_at) }}</span>
        <span class="min-w-0 wrap-anywhere">
          <RouterLink :to="{ name: 'sealed', params: { id: c.rig, round: c.id } }" class="font-bold">{{
            c.name
          }}</RouterLink>
          <span class="block"
            >{{ c.summary || 'No tire was read' }}<template v-if="c.partial">, of some wheels</template></span
          >
        </span>
        <span class="text-sm text-soft"
          >{{ c.by }} with {{ c.gauge }}
          <span class="block"
            >{{ c.tires }} tires, {{ show('temperature', c.outside_c) }}{{ c.place && `, ${c.place}` }}</span
          >
        </span>
      </li>
    </ul>
    <p v-if="page && !rows.length" class="mt-4 text-soft">No sealed round fits.</p>
    <PageTurner
      :list="list"
      :back="asked.sort === 'newest' ? 'Later checks' : 'Earlier checks'"
      :on="asked.sort === 'newest' ? 'Earlier checks' : 'Later checks'"
      class="mt-3"
    />
  </main>
</template>
