<script setup lang="ts">
/** All tires of the workspace: where each is, how old, how worn. Looked for, sorted and paged on the server. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import Presses from '@/shared/Presses.vue'
import TextField from '@/shared/TextField.vue'
import { depthShown, rateShown, say, show, spokenDay } from '@/shared/units'

type Row = Schemas['TireRowOut']
const find = ref('')
const sought = refDebounced(find, 250)
const which = ref<Schemas['TirePageOut']['which']>('all')
const sort = ref<Schemas['TirePageOut']['sort']>('where')
const first = ref(0)
watch([sought, which, sort], () => (first.value = 0))
const asked = computed(() => ({ find: sought.value, which: which.value, sort: sort.value, first: first.value }))
const { data } = useQuery({
  queryKey: ['tires', asked],
  queryFn: () => answer(api.GET('/api/v1/tires', { params: { query: asked.value } })),
  placeholderData: keepPreviousData,
})
const WHICH: { key: Schemas['TirePageOut']['which']; name: string }[] = [
  { key: 'all', name: 'All' },
  { key: 'fitted', name: 'On a rig' },
  { key: 'store', name: 'In the store' },
  { key: 'old', name: 'Old' },
  { key: 'worn', name: 'Worn' },
  { key: 'leaks', name: 'Leaking' },
  { key: 'retired', name: 'Retired' },
]
const SORTS: { key: Schemas['TirePageOut']['sort']; name: string }[] = [
  { key: 'where', name: 'Where it is' },
  { key: 'tread', name: 'Least tread' },
  { key: 'age', name: 'Oldest' },
  { key: 'size', name: 'Size' },
  { key: 'number', name: 'Its number' },
  { key: 'loses', name: 'Loses most' },
]
const file = computed(
  () => `/api/v1/tires.csv?${new URLSearchParams({ find: sought.value, which: which.value, sort: sort.value })}`,
)
const place = (t: Row) => (t.retired_on ? `retired ${spokenDay(t.retired_on)}` : 'in the store')
const last = computed(() => (data.value ? Math.min(data.value.first + data.value.page, data.value.total) : 0))
</script>

<template>
  <main id="stage" class="mx-auto max-w-6xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <div>
        <h1>All tires</h1>
        <p class="text-soft">Through their lives: on a rig, in the store, retired.</p>
      </div>
      <a v-if="data?.total" :href="file" download>CSV</a>
    </div>
    <div class="mt-4 flex flex-wrap items-end gap-4">
      <TextField v-model="find" class="w-72" label="Find a rig, wheel, size, number, date code" />
      <ChoiceField v-model="sort" class="w-44" label="In order of" :choices="SORTS" />
      <div role="group" aria-label="Which" class="flex flex-wrap gap-1">
        <Presses v-model="which" :choices="WHICH" look="chip min-h-11 px-3" />
      </div>
    </div>
    <template v-if="data">
      <p class="mt-4" aria-live="polite">
        <b class="text-2xl">{{ data.total }}</b> {{ data.total === 1 ? 'tire' : 'tires' }}
        <span v-if="data.total > data.page" class="text-soft">, {{ data.first + 1 }} to {{ last }}</span>
      </p>
      <p v-if="!data.total" class="mt-3 max-w-xl text-soft">
        {{
          find || which !== 'all'
            ? 'None is like that. Look for something else, or for all.'
            : 'No tire is entered yet: a rig takes them as it is described, on its page Wear and rotation.'
        }}
      </p>
      <div v-else v-scrolls class="relative mt-2 overflow-x-auto">
        <table class="plain w-full">
          <thead>
            <tr>
              <th>Where</th>
              <th>Tire</th>
              <th class="print:hidden">Number</th>
              <th>Age</th>
              <th class="figure">Least tread</th>
              <th class="figure print:hidden">Wears</th>
              <th class="figure">Loses a month</th>
              <th>At its limit</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="t in data.tires" :key="t.id">
              <td class="whitespace-nowrap print:whitespace-normal">
                <RouterLink :to="{ name: 'tire', params: { tire: t.id } }">{{
                  t.rig === null ? place(t) : `${t.rig_name} · ${t.wheel}`
                }}</RouterLink>
              </td>
              <td class="whitespace-nowrap print:whitespace-normal">
                {{ t.size }} <span class="block text-sm text-soft">{{ t.make }}</span>
              </td>
              <td class="print:hidden">{{ t.casing || '–' }}</td>
              <td :class="{ 'font-semibold text-rust': t.old }">{{ t.age || 'not known' }}</td>
              <td class="figure text-lg font-bold whitespace-nowrap" :class="{ 'text-rust': t.at_limit }">
                {{ t.least_mm === null ? '–' : depthShown(t.least_mm) }}
              </td>
              <td class="figure whitespace-nowrap print:hidden">
                {{ t.fastest_mm === null ? '–' : rateShown(t.fastest_mm) }}
              </td>
              <td class="figure whitespace-nowrap" :class="{ 'font-semibold text-rust': t.leaks }">
                {{ t.loses_kpa_month === null ? '–' : show('pressure', Math.max(0, -t.loses_kpa_month)) }}
              </td>
              <td class="text-sm" :class="{ 'font-semibold text-rust': t.at_limit }">
                {{ !t.limit ? 'not measured' : t.fastest_mm === null && !t.at_limit ? '–' : say(t.limit) }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="data.total" class="mt-2 text-sm text-soft">{{ data.caution }}</p>
      <p v-if="data.total > data.page" class="mt-3 flex gap-4">
        <button type="button" class="button" :disabled="!data.first" @click="first = data.first - data.page">
          Before
        </button>
        <button type="button" class="button" :disabled="last >= data.total" @click="first = data.first + data.page">
          Further
        </button>
      </p>
    </template>
  </main>
</template>
