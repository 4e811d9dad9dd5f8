<script setup lang="ts">
/** The drawer: every gauge with its state in words, the inflators, and gauges held to one tire. */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answer, api } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import FilterField from '@/shared/FilterField.vue'
import PageTurner from '@/shared/PageTurner.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import { say, show, spokenDay } from '@/shared/units'
import { showOpened } from '@/shared/useOpened'
import { useAsked } from '@/shared/useHere'
import { useDraft } from '@/shared/useDraft'
import { useCounted } from '@/shared/usePages'
import { useSave } from '@/shared/useSave'
import BesideForm from './BesideForm.vue'
import GaugeParticulars from './GaugeParticulars.vue'
import ByRounds from './ByRounds.vue'
import DeflatorSets from './DeflatorSets.vue'
import Inflators from './Inflators.vue'
import { particularsOf, sent } from './particulars'

const { may } = useSession()
const router = useRouter()
const { data } = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')) })

const SORTS = [
  { key: 'label' as const, name: 'Their labels' },
  { key: 'due' as const, name: 'To be compared' },
  { key: 'doubt' as const, name: 'Most doubt' },
]
const ALL = { find: '', asks: false, sort: 'label' as (typeof SORTS)[number]['key'] }
const { asked, query } = useAsked('drawer', ALL)
const drawer = useCounted(
  computed(() => ['gauges', 'drawer', query.value]),
  (first) => answer(api.GET('/api/v1/gauges/drawer', { params: { query: { ...query.value, first } } })),
  (page) => page.gauges,
  (page) => page.found,
)
const { page, rows } = drawer
const wanted = computed(() => new URLSearchParams({ ...query.value, asks: String(query.value.asks) }))
const showAll = () => (asked.value = { ...ALL, sort: asked.value.sort })
const narrowed = computed(() => Boolean(query.value.find) || asked.value.asks)

const route = useRoute()
const adding = ref(false)
const form = ref(particularsOf())
const draft = useDraft(() => 'gauge new', form)
const adder = ref<HTMLElement>()
async function add() {
  adding.value = true
  if (!form.value.label) form.value.label = `G${(data.value?.length ?? 0) + 1}`
  await nextTick()
  showOpened(adder.value)
}
onMounted(() => route.query.add && void add())
/** Where one came from for a gauge: back to it with the gauge, to be compared later. */
const back = computed(() => (typeof route.query.back === 'string' ? route.query.back : ''))
const { save, busy, fields, message } = useSave(async (compare: boolean) => {
  const made = await answer(api.POST('/api/v1/gauges', { body: sent(form.value) }))
  draft.saved()
  await queries.invalidateQueries({ queryKey: ['gauges'] })
  if (back.value && !compare) await router.push(back.value)
  else await router.push({ name: 'gauge', params: { gauge: made.id }, query: { ...route.query, compare: '1' } })
})
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <div>
        <h1>Gauges</h1>
        <p class="max-w-2xl text-soft">
          Every gauge is off by something, differently at different pressures. One that was compared with a master is
          corrected by it.
        </p>
      </div>
      <p v-if="data?.length" class="flex flex-wrap gap-x-5">
        <a :href="`/api/v1/gauges/drawer.csv?${wanted}`" download>CSV</a>
        <a href="/api/v1/gauges/comparisons.csv" download>Comparisons as CSV</a>
      </p>
    </div>
    <button
      v-if="may('gauges')"
      type="button"
      class="button mt-4"
      :class="{ 'button-next': data && !data.length }"
      @click="add()"
    >
      Add a gauge
    </button>
    <ByRounds class="mt-4" :here="rows.map((g) => g.id)" />

    <div ref="adder">
      <EntryForm v-if="adding" :refused="fields" class="mt-5 border-y border-hairline py-5" @submit="save(!back)">
        <GaugeParticulars v-model="form" />
        <div class="mt-4 flex flex-wrap items-center gap-4">
          <button class="button button-next" :disabled="busy">
            {{ back ? 'Add it, back to the round' : 'Add it, then compare' }}
          </button>
          <button v-if="back" type="button" class="button" :disabled="busy" @click="save(true)">
            Compare it first
          </button>
          <button type="button" class="link" @click="adding = false">Leave without saving</button>
          <Refusal :message="message" />
        </div>
      </EntryForm>
    </div>

    <p v-if="data && !data.length && !adding" class="mt-8 text-soft">
      The drawer is empty. Add the gauge you use, with its range and the smallest step it shows.
    </p>
    <FilterField
      v-if="page"
      v-model="asked.find"
      label="Filter the gauges"
      :list="page"
      :narrowed="narrowed"
      class="mt-4"
    >
      <button
        v-if="page.asking || asked.asks"
        type="button"
        class="press chip px-2.5 py-1 text-sm"
        :aria-pressed="asked.asks"
        @click="asked.asks = !asked.asks"
      >
        To be compared <b>{{ page.asking.toLocaleString('en-US') }}</b>
      </button>
      <ChoiceField v-model="asked.sort" class="w-44" label="In order of" :choices="SORTS" />
    </FilterField>
    <div v-if="rows.length" v-scrolls class="mt-4 overflow-x-auto">
      <table class="plain">
        <thead>
          <tr>
            <th>Gauge</th>
            <th class="figure max-sm:hidden">Range</th>
            <th class="figure">Sure within</th>
            <th class="max-sm:hidden">Compared</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="g in rows" :key="g.id" :class="{ 'text-soft': g.retired }">
            <td>
              <RouterLink :to="{ name: 'gauge', params: { gauge: g.id } }" class="font-bold">{{ g.label }}</RouterLink>
              {{ g.kind_name.toLowerCase() }}{{ g.dual_foot ? ', dual foot' : '' }}
              <span v-if="g.keeper" class="block text-sm text-soft">{{ g.keeper }}</span>
            </td>
            <td class="figure whitespace-nowrap max-sm:hidden">
              {{ show('pressure', g.low_kpa) }} to {{ show('pressure', g.high_kpa) }}
            </td>
            <td class="figure text-lg font-bold whitespace-nowrap">
              ± {{ show('pressure', g.uncertainty_kpa, 'up') }}
            </td>
            <td class="whitespace-nowrap max-sm:hidden">
              {{ g.compared_on ? spokenDay(g.compared_on) : 'never' }}
            </td>
            <td class="sm:min-w-52">
              <template v-if="g.retired">Retired</template>
              <span v-else-if="g.condition" class="font-medium text-rust">{{ say(g.condition) }}</span>
              <span v-else-if="g.due_on" class="text-soft">compare again by {{ spokenDay(g.due_on) }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>

    <PageTurner :list="drawer" class="mt-3" />
    <p v-if="narrowed && page && !page.found" class="mt-4 text-soft">
      No gauge fits. <button type="button" class="link" @click="showAll()">Show all</button>
    </p>

    <BesideForm v-if="(data ?? []).filter((g) => !g.retired).length > 1" :gauges="data ?? []" class="mt-8" />
    <!-- Below the gauges: not before they are there, or it would move under the pointer. -->
    <Inflators v-if="data" :gauges="data" class="mt-8" />
    <DeflatorSets v-if="data" :gauges="data" />
  </main>
</template>
