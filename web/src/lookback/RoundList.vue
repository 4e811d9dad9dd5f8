<script setup lang="ts">
/** Each sealed round in two sentences, leak or weather; looked for, ordered and turned over as they are wanted. */
import { computed, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import FilterField from '@/shared/FilterField.vue'
import PageTurner from '@/shared/PageTurner.vue'
import { say, show, showWhole, spokenDay } from '@/shared/units'
import { useAsked } from '@/shared/useHere'
import { usePages } from '@/shared/usePages'

const props = defineProps<{ of: Schemas['LookBackOut'] }>()
const { id } = useFrame()
const SORTS = [
  { key: 'newest' as const, name: 'Newest first' },
  { key: 'oldest' as const, name: 'Oldest first' },
]
/** So many stand there until all are asked for. */
const FEW = 12
const all = ref(false)
const { asked, query } = useAsked('rounds', { find: '', sort: 'newest' as (typeof SORTS)[number]['key'] })
const narrowed = computed(() => Boolean(query.value.find) || asked.value.sort !== 'newest')
const list = usePages(
  computed(() => ['rig', id.value, 'lookback', 'rounds', query.value.find, asked.value.sort]),
  // The newest came with Look back itself.
  (past) =>
    narrowed.value || past
      ? answer(
          api.GET('/api/v1/lookback/{rig_id}/rounds', {
            params: {
              path: { rig_id: id.value },
              query: { find: query.value.find, sort: asked.value.sort, ...(past && { past }) },
            },
          }),
        )
      : Promise.resolve({ rounds: props.of.rounds, more: props.of.more }),
  (page) => page.rounds,
  (page) => (page.more ? page.rounds.at(-1)!.id : null),
)
const { rows, first, refetch } = list
watch(
  () => props.of,
  () => void refetch(),
)
const short = computed(() => !all.value && !narrowed.value && first.value && rows.value.length > FEW)
</script>

<template>
  <section class="mt-6">
    <h2>Leak or weather, round by round</h2>
    <FilterField
      v-if="of.more || of.rounds.length > FEW"
      v-model="asked.find"
      label="Filter the rounds by result, place, gauge or person"
      class="mt-2"
    >
      <ChoiceField v-model="asked.sort" class="w-44" label="In order of" :choices="SORTS" />
    </FilterField>
    <p v-if="narrowed && !rows.length" class="mt-3 text-soft">
      No round fits. <button type="button" class="link" @click="asked.find = ''">Show all</button>
    </p>
    <ol class="mt-1">
      <li v-for="r in short ? rows.slice(0, FEW) : rows" :key="r.id" class="border-t border-hairline py-3">
        <div class="flex flex-wrap items-baseline justify-between gap-x-6">
          <h3 class="font-bold">
            <RouterLink :to="{ name: 'sealed', params: { id, round: r.id } }">{{ spokenDay(r.at) }}</RouterLink>
            <span class="font-normal text-soft"> · {{ r.summary }}</span>
          </h3>
          <p class="text-sm text-soft">
            {{ r.by }}, gauge {{ r.gauge }}, {{ r.place || 'by hand' }} {{ show('temperature', r.outside_c) }},
            {{ showWhole('length', r.elevation_m) }}{{ r.amended ? ', put right since' : '' }}
          </p>
        </div>
        <p v-for="(w, i) in r.words" :key="i" :class="{ 'font-medium text-rust': i === 0 && r.odd }">
          {{ say(w) }}
        </p>
      </li>
    </ol>
    <button v-if="short" type="button" class="link" @click="all = true">
      {{ of.more ? `The last ${rows.length} rounds` : `All ${rows.length} rounds` }}
    </button>
    <PageTurner
      v-else
      :list="list"
      :back="asked.sort === 'newest' ? 'Later rounds' : 'Earlier rounds'"
      :on="asked.sort === 'newest' ? 'Earlier rounds' : 'Later rounds'"
      class="mt-2"
    />
  </section>
</template>
