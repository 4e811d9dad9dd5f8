<script setup lang="ts">
/** A fleet's month, drawn: what was done and missed, found and mended. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import { say, show, spokenDay, today } from '@/shared/units'
import DayBars from './DayBars.vue'
import ShareBar from './ShareBar.vue'

/** Empty: which one to begin with is the server's to say. */
const chosen = ref('')
const query = computed(() => ({ month: chosen.value }))
const { data } = useQuery({
  queryKey: ['yard', 'report', query],
  queryFn: () => answer(api.GET('/api/v1/report', { params: { query: query.value } })),
  placeholderData: keepPreviousData,
})
const month = computed({ get: () => chosen.value || (data.value?.month ?? ''), set: (to) => (chosen.value = to) })
/** The months of the last year, the newest first. */
const MONTHS = Array.from({ length: 14 }, (_, back) => {
  const at = new Date(`${today().slice(0, 7)}-15T12:00:00`)
  at.setMonth(at.getMonth() - back)
  return { key: at.toLocaleDateString('en-CA').slice(0, 7), name: named(at) }
})
function named(at: Date): string {
  return at.toLocaleDateString('en-US', { month: 'long', year: 'numeric' })
}
const kept = computed(() => [
  { name: 'on time', count: data.value?.on_time ?? 0, look: 'bg-ink' },
  { name: 'late', count: data.value?.late ?? 0, look: 'bg-buoy' },
  { name: 'missed', count: data.value?.missed ?? 0, look: 'bg-rust' },
])
const LOOK: Record<string, string> = { stop: 'bg-rust', add: 'bg-rust', let_out: 'bg-plum', hold: 'bg-green' }
const said = computed(() =>
  (data.value?.said ?? []).map((s) => ({ name: s.name, count: s.count, look: LOOK[s.word] ?? 'bg-soft' })),
)
/** So many rigs are listed here: what asks first comes first. */
const LISTED = 60
const rigs = computed(() => (data.value?.rigs ?? []).slice(0, LISTED))
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <h1>The month of {{ data?.workspace }}</h1>
      <div class="flex flex-wrap items-end gap-3">
        <ChoiceField v-model="month" class="w-48" label="Month" :choices="MONTHS" />
        <a class="button" :href="`/api/v1/report.pdf?month=${month}`" download>PDF</a>
        <a class="button" :href="`/api/v1/report.csv?month=${month}`" download>CSV</a>
      </div>
    </div>
    <template v-if="data">
      <section class="mt-5">
        <h2>
          <span class="text-3xl font-bold">{{ data.rounds }}</span> {{ data.rounds === 1 ? 'round' : 'rounds' }}
        </h2>
        <DayBars class="mt-1" :days="data.days" :first="data.first" />
        <p v-if="data.people.length" class="text-soft">
          {{ data.people.map((p) => `${p.name} ${p.rounds}`).join(' · ') }}
        </p>
      </section>
      <div class="mt-6 grid gap-x-10 gap-y-6 md:grid-cols-2">
        <section>
          <h2>Checks that fell due</h2>
          <ShareBar :parts="kept" none="None fell due." />
        </section>
        <section>
          <h2>Tires as they were found</h2>
          <ShareBar :parts="said" none="None was read." />
        </section>
      </div>
      <dl class="mt-6 grid grid-cols-2 gap-x-10 gap-y-4 sm:grid-cols-4">
        <div>
          <dt class="label">Leaks found</dt>
          <dd class="text-2xl font-bold" :class="{ 'text-rust': data.found }">{{ data.found }}</dd>
        </div>
        <div>
          <dt class="label">Leaks mended</dt>
          <dd class="text-2xl font-bold">{{ data.mended }}</dd>
        </div>
        <div>
          <dt class="label">Times a tire got air</dt>
          <dd class="text-2xl font-bold">{{ data.filled }}</dd>
          <dd v-if="data.filled_kpa !== null" class="text-sm text-soft">
            {{ show('pressure', data.filled_kpa) }} in the mean
          </dd>
        </div>
        <div>
          <dt class="label">Weighings due</dt>
          <dd class="text-2xl font-bold">{{ data.weighings }}</dd>
          <dd v-if="data.anew" class="text-sm text-rust">not known of {{ data.anew }} rigs just now</dd>
        </div>
      </dl>
      <ul v-if="data.gauges.length" class="mt-5">
        <li v-for="(g, i) in data.gauges" :key="i" class="border-l-4 border-rust bg-rustwash px-4 py-1.5">
          {{ say(g) }}
        </li>
      </ul>
      <section class="mt-7">
        <h2>Rig by rig</h2>
        <div v-scrolls class="overflow-x-auto">
          <table class="plain mt-1">
            <thead>
              <tr>
                <th scope="col">Rig</th>
                <th
                  v-for="h in ['Rounds', 'On time', 'Late', 'Missed', 'Read', 'Out', 'Leaks', 'Mended', 'Filled']"
                  :key="h"
                  scope="col"
                  class="figure"
                >
                  {{ h }}
                </th>
                <th scope="col">Weighing</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="r in rigs" :key="r.rig">
                <th scope="row" class="text-ink">
                  <RouterLink :to="{ name: 'lookback', params: { id: r.rig } }">{{ r.name }}</RouterLink>
                </th>
                <td class="figure">{{ r.rounds }}</td>
                <td class="figure">{{ r.on_time }}</td>
                <td class="figure">{{ r.late }}</td>
                <td class="figure" :class="{ 'font-bold text-rust': r.missed }">{{ r.missed }}</td>
                <td class="figure">{{ r.read }}</td>
                <td class="figure">{{ r.out }}</td>
                <td class="figure" :class="{ 'font-bold text-rust': r.found }">{{ r.found }}</td>
                <td class="figure">{{ r.mended }}</td>
                <td class="figure">{{ r.filled }}</td>
                <td>{{ r.weigh ? 'due' : '' }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-if="data.rigs.length > rigs.length" class="text-soft">
          The first {{ rigs.length }} of {{ data.rigs.length }}; all of them are in the CSV and the PDF.
        </p>
      </section>
      <p class="mt-4 text-sm text-soft">
        From sealed rounds between {{ spokenDay(data.first) }} and {{ spokenDay(data.last) }}, by their days in UTC.
      </p>
    </template>
  </main>
</template>
