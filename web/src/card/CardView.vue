<script setup lang="ts">
/** The pressure card: as it prints, and as a PDF to take along. */
import { useQuery } from '@tanstack/vue-query'
import { ref, toRef, watch } from 'vue'
import { cardOf } from '@/rigs/queries'
import { missing, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import { adrift, keptAt } from '@/shared/kept'
import Awaited from '@/shared/Awaited.vue'
import Squares from '@/shared/Squares.vue'
import { figure, say, show, showWhole, spokenDay, unitOf, toward } from '@/shared/units'

const props = defineProps<{ id: number }>()
const id = toRef(props, 'id')
const { data, error, refetch } = useQuery(cardOf(id))
const asOf = ref<number>()
watch([adrift, id], async () => (asOf.value = await keptAt(`card ${id.value}`)), { immediate: true })
/** Where the tires of an axle stand across the drawing. */
const TIRES = { 1: [32], 2: [8, 56], 4: [5, 15, 49, 59] }
const print = () => window.print()
const aimed = (v: Schemas['CardVehicle']) => v.axles.some((a) => a.target_kpa !== null)
</script>

<template>
  <Awaited v-if="!data || missing(error)" what="The card" :error="error" @again="refetch()" />
  <main v-else id="stage" class="mx-auto max-w-3xl px-4 py-6">
    <div class="mb-5 flex flex-wrap items-center gap-x-6 gap-y-2 print:hidden">
      <RouterLink :to="{ name: 'targets', params: { id } }">Back to the target</RouterLink>
      <span class="flex-1" />
      <template v-if="!adrift">
        <a class="button button-next" :href="`/api/v1/rigs/${id}/card.pdf?paper_size=a5`" download>PDF, A5</a>
        <a class="button" :href="`/api/v1/rigs/${id}/card.pdf?paper_size=half-letter`" download>PDF, half letter</a>
      </template>
      <button type="button" class="button" @click="print">Print</button>
    </div>
    <Banner v-if="adrift" loud class="mb-4"
      >The server does not answer. This card is as of
      {{ asOf ? spokenDay(new Date(asOf).toISOString()) : 'when it was last read' }}: what was put in force since is not
      on it.</Banner
    >
    <article class="border border-hairline bg-paper p-5 print:border-0 print:p-0">
      <header class="flex items-start justify-between gap-6">
        <div>
          <h1 class="text-2xl">{{ data.title }}</h1>
          <p class="text-soft">Cold tire pressures in {{ unitOf('pressure') }}</p>
          <p class="text-sm text-soft">
            Set at {{ show('temperature', data.set_in_c) }}{{ data.place ? ` at ${data.place}` : '' }},
            {{ showWhole('length', data.elevation_m) }}; made {{ spokenDay(data.made_on) }}
          </p>
          <p v-for="(o, k) in data.out" :key="k" class="mt-1 text-lg font-bold text-rust">{{ say(o) }}</p>
          <p v-if="data.ground" class="mt-1 text-lg font-bold text-rust">{{ say(data.ground) }}</p>
          <p v-for="s in data.stamps" :key="s" class="mt-1 font-bold text-rust">{{ s }}</p>
        </div>
        <Squares :rows="data.qr" class="size-28" :label="`QR code to the round: ${data.address}`" />
      </header>
      <section v-for="v in data.vehicles" :key="v.rig" class="mt-4 border-t-2 border-ink pt-3">
        <div class="flex flex-wrap items-baseline justify-between gap-x-6">
          <h2>{{ [v.fleet_number, v.name].filter(Boolean).join(' ') }}</h2>
          <p class="text-sm text-soft">
            {{ v.weighed_on ? `${v.load_state}, weighed ${spokenDay(v.weighed_on)}` : 'not weighed' }}
          </p>
        </div>
        <p v-if="!aimed(v)" class="text-soft">No target in force.</p>
        <div v-scrolls class="overflow-x-auto">
          <table class="plain mt-1 text-sm">
            <thead>
              <tr>
                <td class="w-20" />
                <th scope="col"><span class="sr-only">Axle</span></th>
                <th scope="col" class="figure">target</th>
                <th scope="col" class="figure">floor</th>
                <th scope="col" class="figure">ceiling</th>
                <th v-for="c in data.temperatures_c" :key="c" scope="col" class="figure">
                  {{ show('temperature', c) }}
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="a in v.axles" :key="a.name">
                <td class="text-ink">
                  <svg width="64" height="32" viewBox="0 0 64 32" aria-hidden="true">
                    <path d="M8 16h48M32 0v32" stroke="currentColor" fill="none" class="text-soft" />
                    <rect
                      v-for="x in TIRES[a.wheels as 1 | 2 | 4]"
                      :key="x"
                      :x="x - 4"
                      y="5"
                      width="8"
                      height="22"
                      fill="currentColor"
                    />
                  </svg>
                </td>
                <th scope="row" class="text-ink">
                  <b>{{ a.name }}</b>
                </th>
                <template v-if="a.target_kpa !== null">
                  <td class="figure text-2xl font-bold">
                    {{ figure('pressure', a.target_kpa, toward(a.target_kpa, a.ceiling_kpa)) }}
                  </td>
                  <td class="figure">
                    {{
                      a.floor_kpa === null
                        ? '–'
                        : figure('pressure', a.floor_kpa, toward(a.floor_kpa, a.target_kpa ?? a.ceiling_kpa))
                    }}
                  </td>
                  <td class="figure">
                    {{ a.ceiling_kpa === null ? '–' : figure('pressure', a.ceiling_kpa, 'down') }}
                  </td>
                  <td v-for="r in a.readings" :key="r.temperature_c" class="figure">
                    <span v-if="r.above_floor === false" class="text-soft">({{ figure('pressure', r.kpa) }})</span>
                    <span v-else-if="r.below_ceiling === false" class="text-soft"
                      >[{{ figure('pressure', r.kpa) }}]</span
                    >
                    <template v-else>{{ figure('pressure', r.kpa) }}</template>
                  </td>
                </template>
                <td v-else :colspan="3 + data.temperatures_c.length" class="font-semibold text-rust">
                  {{ say(a.words) }}
                </td>
              </tr>
              <tr v-for="s in v.spares" :key="`s${s.number}`">
                <td />
                <th scope="row" class="text-ink">
                  <b>{{ s.name }}</b>
                </th>
                <td v-if="s.target_kpa !== null" class="figure text-2xl font-bold">
                  {{ figure('pressure', s.target_kpa, toward(s.target_kpa, s.ceiling_kpa)) }}
                </td>
                <td v-else :colspan="3 + data.temperatures_c.length" class="text-rust">{{ say(s.words) }}</td>
                <template v-if="s.target_kpa !== null">
                  <td />
                  <td class="figure">
                    {{ s.ceiling_kpa === null ? '–' : figure('pressure', s.ceiling_kpa, 'down') }}
                  </td>
                  <td :colspan="data.temperatures_c.length" />
                </template>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-for="(r, i) in v.ranges" :key="`r${i}`" class="mt-1">{{ say(r) }}</p>
        <p v-for="(o, i) in v.over" :key="i" class="mt-1 font-bold text-rust">{{ say(o) }}</p>
        <p v-if="v.provisional" class="font-semibold text-rust">Provisional: not weighed, or without a table.</p>
        <p v-for="t in v.trials" :key="t" class="font-semibold text-rust">A trial below the placard: {{ t }}</p>
        <p v-for="(u, k) in v.unlike" :key="`u${k}`" class="font-semibold text-rust">{{ say(u) }}</p>
        <p v-if="v.out_of_date.length" class="font-semibold text-rust">Out of date: {{ v.out_of_date.join(', ') }}.</p>
        <p v-if="v.unchecked.length" class="text-sm font-medium text-rust">
          Not checked by a second person: {{ v.unchecked.join('; ') }}.
        </p>
        <p v-if="v.put_at" class="mt-1 text-sm text-soft">
          By {{ v.tables.join('; ') || 'the placard' }}. In force since {{ spokenDay(v.put_at) }}, {{ v.put_by }}.
        </p>
      </section>
      <footer class="mt-4 border-t border-hairline pt-2 text-sm text-soft">
        <p>In brackets: (below the floor), [above the ceiling]. Set it again there.</p>
        <p v-for="c in data.cautions" :key="c">{{ c }}</p>
        <p>The code leads to its round: {{ data.address }}</p>
      </footer>
    </article>
  </main>
</template>
