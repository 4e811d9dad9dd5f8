<script setup lang="ts">
/** Sealed rounds: who, when, which gauge, the air, and every tire's raw, corrected and after values. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import Shape from '@/shared/Shape.vue'
import { figure, show, unitOf, showWhole } from '@/shared/units'
import { WORDS } from '@/shared/words'

const { id, sheet } = useFrame()
const rounds = useQuery({
  queryKey: ['rig', id, 'rounds'],
  queryFn: () => answer(api.GET('/api/v1/lookback/{rig_id}', { params: { path: { rig_id: id.value } } })),
})
const csv = computed(() => `/api/v1/lookback/${id.value}/rounds.csv`)
const when = (iso: string, zone: string) =>
  new Date(iso).toLocaleString('en-US', { dateStyle: 'medium', timeStyle: 'short', timeZone: zone })
const change = (kpa: number) => `${kpa > 0 ? '+' : ''}${figure('pressure', kpa)}`
</script>

<template>
  <div class="flex flex-wrap items-start justify-between gap-4">
    <div class="min-w-60 flex-1">
      <h1>Sealed rounds</h1>
      <p class="text-soft">
        Changes compare the same air: everything brought to 20 °C and sea level, from what was left last time
        to what was found.
      </p>
    </div>
    <a v-if="rounds.data.value?.length" :href="csv" class="button" download>Export as CSV</a>
  </div>
  <section v-if="rounds.data.value && !rounds.data.value.length" class="mt-8 max-w-md">
    <h2>Nothing sealed yet</h2>
    <p class="mt-1 text-soft">A round is history once it is sealed.</p>
    <RouterLink :to="{ name: 'rounds', params: { id } }" class="button button-next mt-4">{{
      sheet.open_round ? 'Go on with the round' : 'Open a round'
    }}</RouterLink>
  </section>
  <ol class="mt-4">
    <li v-for="(r, i) in rounds.data.value ?? []" :key="r.id" class="border-t border-hairline py-3">
      <div class="flex flex-wrap items-baseline justify-between gap-x-6">
        <h2>
          {{ when(r.sealed_at, r.time_zone) }} <span class="font-normal text-soft">{{ r.place }}</span>
        </h2>
        <p class="text-soft">
          {{ r.sealed_by }}, gauge {{ r.gauge }}, {{ show('temperature', r.outside_c) }},
          {{ showWhole('length', r.elevation_m) }}{{ r.cold ? '' : ', warm: estimates' }}
        </p>
      </div>
      <p class="font-medium">{{ r.summary }}</p>
      <p v-for="f in r.findings" :key="f" class="text-sm font-semibold text-rust">{{ f }}</p>
      <p v-if="r.unread_reason" class="text-sm">Not read, because: {{ r.unread_reason }}</p>
      <Opening label="Every tire" :open="i === 0">
        <div class="overflow-x-auto">
          <table class="plain">
            <thead>
              <tr>
                <th>Wheel</th>
                <th class="figure">Gauge</th>
                <th class="figure">True</th>
                <th class="figure">Target here</th>
                <th>Answer</th>
                <th class="figure">After, gauge</th>
                <th class="figure">After, true</th>
                <th class="figure">Change, same air</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="t in r.tires" :key="t.code">
                <td class="whitespace-nowrap">
                  {{ t.name }} <span class="text-soft">{{ t.code }}</span>
                </td>
                <td class="figure" :title="t.typed ? `typed ${t.typed}, by ${t.by}` : ''">
                  {{ t.raw_kpa === null ? '–' : figure('pressure', t.raw_kpa) }}
                </td>
                <td class="figure font-bold">
                  {{ t.corrected_kpa === null ? '–' : figure('pressure', t.corrected_kpa) }}
                </td>
                <td class="figure text-soft">
                  {{ t.here_kpa === null ? '–' : figure('pressure', t.here_kpa, 'up') }}
                </td>
                <td>
                  <span class="flex items-center gap-2 whitespace-nowrap"
                    ><Shape :word="t.word" :size="14" />{{ WORDS[t.word] }}</span
                  >
                </td>
                <td class="figure">
                  {{ t.after_raw_kpa === null ? '–' : figure('pressure', t.after_raw_kpa) }}
                </td>
                <td class="figure">{{ t.after_kpa === null ? '–' : figure('pressure', t.after_kpa) }}</td>
                <td class="figure">{{ t.change_kpa === null ? '–' : change(t.change_kpa) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p class="mt-1 text-sm text-soft">Pressures in {{ unitOf('pressure') }}.</p>
      </Opening>
    </li>
  </ol>
</template>
