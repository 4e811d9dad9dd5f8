<script setup lang="ts">
/** All tires of the workspace: where each is, how old, how worn. Looked for, sorted and paged on the server. */
import { computed } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import PageTurner from '@/shared/PageTurner.vue'
import Presses from '@/shared/Presses.vue'
import TextField from '@/shared/TextField.vue'
import { depthShown, rateShown, say, show, spokenDay } from '@/shared/units'
import { useAsked } from '@/shared/useHere'
import { useCounted } from '@/shared/usePages'

type Row = Schemas['TireRowOut']
const { asked, query } = useAsked('tires', {
  find: '',
  which: 'all' as Schemas['TirePageOut']['which'],
  sort: 'where' as Schemas['TirePageOut']['sort'],
})
const list = useCounted(
  computed(() => ['tires', query.value]),
  (first) => answer(api.GET('/api/v1/tires', { params: { query: { ...query.value, first } } })),
  (page) => page.tires,
  (page) => page.total,
)
const { page: data, rows } = list
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
const file = computed(() => `/api/v1/tires.csv?${new URLSearchParams(query.value)}`)
const place = (t: Row) => (t.retired_on ? `retired ${spokenDay(t.retired_on)}` : 'in the store')
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
      <TextField v-model="asked.find" class="w-72" label="Find a rig, wheel, size, number, date code" />
      <ChoiceField v-model="asked.sort" class="w-44" label="In order of" :choices="SORTS" />
      <div role="group" aria-label="Which" class="flex flex-wrap gap-1">
        <Presses v-model="asked.which" :choices="WHICH" look="chip min-h-11 px-3" />
      </div>
    </div>
    <template v-if="data">
      <p class="mt-4" aria-live="polite">
        <b class="text-2xl">{{ data.total }}</b> {{ data.total === 1 ? 'tire' : 'tires' }}
      </p>
      <p v-if="!data.total" class="mt-3 max-w-xl text-soft">
        {{
          asked.find || asked.which !== 'all'
            ? 'None is like that. Look for something else, or for all.'
            : 'No tire is entered yet: a rig takes them as it is described, on its page Wear and rotation.'
        }}
      </p>
      <div v-else v-scrolls class="relative mt-2 overflow-x-auto">
        <table class="plain w-full">
          <thead>
            <tr>
              <th>Where</th>
              <th class="max-sm:hidden">Tire</th>
              <th class="max-sm:hidden print:hidden">Number</th>
              <th class="max-sm:hidden">Age</th>
              <th class="figure">Least tread</th>
              <th class="figure max-sm:hidden print:hidden">Wears</th>
              <th class="figure">Loses a month</th>
              <th class="max-sm:hidden">At its limit</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="t in rows" :key="t.id">
              <td class="whitespace-nowrap max-sm:whitespace-normal print:whitespace-normal">
                <RouterLink :to="{ name: 'tire', params: { tire: t.id } }">{{
                  t.rig === null ? place(t) : `${t.rig_name} · ${t.wheel}`
                }}</RouterLink>
                <span class="block text-sm text-soft sm:hidden print:hidden"
                  >{{ t.size }},
                  <span :class="{ 'font-semibold text-rust': t.old }">{{ t.age || 'age not known' }}</span></span
                >
              </td>
              <td class="whitespace-nowrap max-sm:hidden print:whitespace-normal">
                {{ t.size }} <span class="block text-sm text-soft">{{ t.make }}</span>
              </td>
              <td class="max-sm:hidden print:hidden">{{ t.casing || '–' }}</td>
              <td class="max-sm:hidden" :class="{ 'font-semibold text-rust': t.old }">{{ t.age || 'not known' }}</td>
              <td class="figure text-lg font-bold whitespace-nowrap" :class="{ 'text-rust': t.at_limit }">
                {{ t.least_mm === null ? '–' : depthShown(t.least_mm) }}
              </td>
              <td class="figure whitespace-nowrap max-sm:hidden print:hidden">
                {{ t.fastest_mm === null ? '–' : rateShown(t.fastest_mm) }}
              </td>
              <td class="figure whitespace-nowrap" :class="{ 'font-semibold text-rust': t.leaks }">
                {{ t.loses_kpa_month === null ? '–' : show('pressure', Math.max(0, -t.loses_kpa_month)) }}
              </td>
              <td class="text-sm max-sm:hidden" :class="{ 'font-semibold text-rust': t.at_limit }">
                {{ !t.limit ? 'not measured' : t.fastest_mm === null && !t.at_limit ? '–' : say(t.limit) }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="data.total" class="mt-2 text-sm text-soft">{{ data.caution }}</p>
      <PageTurner :list="list" class="mt-3" />
    </template>
  </main>
</template>
