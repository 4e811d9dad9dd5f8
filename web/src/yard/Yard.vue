<script setup lang="ts">
/** Every rig with its state in words, the most urgent first. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced, useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { useSession } from '@/shared/session'
import { answer, api, refusedOf } from '@/shared/api/client'
import { refreshRig } from '@/rigs/queries'
import Banner from '@/shared/Banner.vue'
import FilterField from '@/shared/FilterField.vue'
import Presses from '@/shared/Presses.vue'
import { clock, spokenDay } from '@/shared/units'
import { useWide } from '@/shared/wide'
import { addressOf, ALL, askedOf, narrows, queryOf, type Asked } from './queries'
import { useChosen } from './useChosen'
import { takeCardsAlong, useKeptHere } from './useKeptHere'
import { useYard } from './useYard'
import YardChips from './YardChips.vue'
import YardChosen from './YardChosen.vue'
import YardRow from './YardRow.vue'

const { session, may } = useSession()
const { adrift, asOf, opens, card, waiting, first } = useKeptHere()
const asKept = computed(() => {
  const at = asOf.value ? new Date(asOf.value).toISOString() : ''
  return at ? `${spokenDay(at)}, ${clock(at)}` : 'it was last read'
})
const SORTS = [
  { key: 'urgency' as const, name: 'what asks first' },
  { key: 'number' as const, name: 'number' },
  { key: 'weighed' as const, name: 'weighed' },
  { key: 'read' as const, name: 'last round' },
]
const route = useRoute()
const router = useRouter()
const wanted = ref(askedOf(queryOf(route.fullPath)))
const find = refDebounced(
  computed(() => wanted.value.find),
  150,
)
const asked = computed<Asked>(() => ({ ...wanted.value, find: find.value }))
const { choosing, chosen, ids, turn, all, end } = useChosen()
const ROWS = [
  { key: 'dense' as const, name: 'dense' },
  { key: 'comfortable' as const, name: 'comfortable' },
]
/** Until somebody chooses, many rigs are shown densely, and a phone has no room for it. */
const MANY = 20
const rowsChosen = useLocalStorage<'' | 'dense' | 'comfortable'>('yard-rows', '')
const wide = useWide()
const many = ref(false)
const rowsAs = computed({
  get: () => rowsChosen.value || (many.value ? 'dense' : 'comfortable'),
  set: (as) => (rowsChosen.value = as),
})
const dense = computed(() => wide.value && rowsAs.value === 'dense')
const height = computed(() => (dense.value ? 48 : 104))
const { head, count, lines, rows, margin } = useYard(asked, height, first)
const { data, error, refetch } = head
watch(data, (now) => now && (many.value = now.total > MANY), { immediate: true })
watch(data, (now) => now && !adrift.value && setTimeout(() => void takeCardsAlong(now.rigs), 1500), { immediate: true })
// What is looked for stands in the address: it can be kept, and is found again on the way back.
let leaving = false
onBeforeRouteLeave(() => void (leaving = true))
watch(asked, (now) => {
  // On the way to another page it would call that off.
  if (!leaving) void router.replace({ query: addressOf(now) })
})
const narrow = (to: Partial<Asked>) => (wanted.value = { ...wanted.value, ...to })
const showAll = () => narrow({ ...ALL, sort: wanted.value.sort })
const narrowed = computed(() => narrows(asked.value))
const showArchived = ref(false)
const archived = useQuery({
  queryKey: ['archived'],
  queryFn: () => answer(api.GET('/api/v1/rigs', { params: { query: { archived: true } } })),
  enabled: showArchived,
})

const spoken = (n: number) => n.toLocaleString('en-US')
const summary = computed(() => {
  const { total, asking, anew } = data.value!
  const asks = asking
    ? `${spoken(asking)} of ${spoken(total)} ${total === 1 ? 'rig' : 'rigs'} ${asking === 1 ? 'asks' : 'ask'} for you`
    : 'nothing asks for you'
  return anew ? `${asks}; ${spoken(anew)} being worked out` : asks
})
async function restore(id: number) {
  await answer(api.POST('/api/v1/rigs/{rig_id}/restore', { params: { path: { rig_id: id } } }))
  await Promise.all([refreshRig(id), archived.refetch()])
}
</script>

<template>
  <main id="stage" class="mx-auto max-w-6xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <div>
        <h1>Yard</h1>
        <p class="text-soft">
          {{ session?.workspace?.name }}<template v-if="data?.total">: {{ summary }}</template>
        </p>
      </div>
      <div class="flex flex-wrap gap-3">
        <RouterLink v-if="data?.total" to="/day" class="button">Your day</RouterLink>
        <RouterLink v-if="data?.total" to="/morning" class="button">This morning</RouterLink>
        <RouterLink to="/gauges" class="button">Gauges</RouterLink>
        <RouterLink to="/tables" class="button">Tables</RouterLink>
        <RouterLink v-if="may('rigs')" to="/rigs/import" class="button">Import</RouterLink>
        <RouterLink v-if="may('rigs')" to="/rigs/new" class="button" :class="{ 'button-next': data && !data.total }"
          >Add a rig</RouterLink
        >
      </div>
    </div>

    <p v-if="error && !data" class="mt-8" role="alert">
      {{ refusedOf(error).message }}
      <button type="button" class="link" @click="() => refetch()">Try again</button>
      <button v-if="narrowed" type="button" class="link ml-3" @click="showAll">Show all</button>
    </p>
    <section v-else-if="data && !data.total" class="mt-12 max-w-md">
      <h2>No rig yet</h2>
      <p class="mt-1 text-soft">
        {{
          may('rigs')
            ? 'Add the first: its kind, its axles, and what stands on the sidewalls. Then weigh it.'
            : 'A manager of this workspace adds rigs.'
        }}
      </p>
      <p v-if="may('people')" class="mt-2">
        Kept on another server till now?
        <RouterLink :to="{ name: 'people', hash: '#archive' }">Bring its archive in</RouterLink>
      </p>
    </section>

    <template v-else-if="data">
      <Banner v-if="adrift" class="mt-4"
        >The server does not answer. This is the Yard as of {{ asKept }}, in this browser: what can be opened without a
        network is named, unsent entries and open rounds first.</Banner
      >
      <div class="mt-6 flex flex-wrap items-center justify-between gap-3">
        <FilterField v-model="wanted.find" label="Filter the rigs" />
        <div class="flex flex-wrap items-center gap-1 text-sm" role="group" aria-label="Order">
          <span class="mr-1 text-soft">Order</span>
          <Presses v-model="wanted.sort" :choices="SORTS" look="quiet rounded-md px-2 py-1" />
        </div>
        <div v-if="wide" class="flex items-center gap-1 text-sm" role="group" aria-label="Rows">
          <span class="mr-1 text-soft">Rows</span>
          <Presses v-model="rowsAs" :choices="ROWS" look="quiet rounded-md px-2 py-1" />
        </div>
      </div>
      <YardChips
        v-if="!adrift"
        class="mt-3"
        :yard="data"
        :asked="asked"
        :count="count"
        :narrowed="narrowed"
        @narrow="narrow"
      >
        <button v-if="!choosing" type="button" class="link" @click="choosing = true">Choose rigs</button>
      </YardChips>
      <YardChosen
        v-if="choosing"
        class="mt-3"
        :ids="ids"
        :count="count"
        :narrowed="narrowed"
        :prints="data.prints"
        @all="all(asked)"
        @end="end()"
      />
      <ul
        ref="list"
        class="relative mt-3 border-t border-hairline"
        :style="{ height: `${rows.getTotalSize()}px` }"
        :aria-busy="lines.some((l) => !l.rig)"
      >
        <li
          v-for="{ item, rig: r, dawn } in lines"
          :key="r?.id ?? `at ${item.index}`"
          :ref="(row) => rows.measureElement(row as HTMLElement | null)"
          :data-index="item.index"
          :aria-posinset="item.index + 1"
          :aria-setsize="count"
          class="absolute inset-x-0 border-b border-hairline"
          :class="{ 'pl-9': choosing }"
          :style="{ top: `${item.start - margin}px` }"
        >
          <input
            v-if="choosing && r"
            type="checkbox"
            class="absolute top-3.5 left-1 size-5 accent-teal"
            :aria-label="`Choose ${r.fleet_number} ${r.name}`"
            :checked="chosen.has(r.id)"
            @change="turn(r.id)"
          />
          <p v-if="!r" class="px-1 py-3.5 text-soft" :style="{ height: `${height}px` }">On its way …</p>
          <YardRow v-else :rig="r" :dense="dense" :dawn="dawn" />
          <p v-if="adrift && r" class="flex flex-wrap gap-x-5 gap-y-1 px-1 pb-2 text-sm">
            <span v-if="waiting(r)" class="font-semibold text-rust"
              >{{ waiting(r) }} {{ waiting(r) === 1 ? 'entry' : 'entries' }} not sent</span
            >
            <span v-if="!opens(r.round_open ? (r.head ?? r.id) : r.id)" class="text-soft"
              >not kept in this browser: needs a network</span
            >
            <RouterLink
              v-if="card(r.head ?? r.id)"
              :to="{ name: 'card', params: { id: r.head ?? r.id } }"
              class="min-h-6"
              >Pressure card</RouterLink
            >
          </p>
        </li>
      </ul>
      <p v-if="!count" class="py-6 text-soft">
        No rig fits{{ wanted.find && ` “${wanted.find}”` }}.
        <button type="button" class="link" @click="showAll">Show all</button>
      </p>
    </template>

    <section v-if="data?.archived" class="mt-8">
      <button type="button" class="link" :aria-expanded="showArchived" @click="showArchived = !showArchived">
        {{ showArchived ? 'Hide' : 'Show' }} archived rigs ({{ data.archived }})
      </button>
      <ul v-if="showArchived" class="mt-2">
        <li
          v-for="r in archived.data.value ?? []"
          :key="r.id"
          class="flex items-center gap-4 border-t border-hairline py-2"
        >
          <RouterLink :to="{ name: 'rig', params: { id: r.id } }">{{ r.fleet_number }} {{ r.name }}</RouterLink>
          <button v-if="may('rigs')" type="button" class="link text-sm" @click="restore(r.id)">Bring back</button>
        </li>
      </ul>
    </section>
  </main>
</template>
