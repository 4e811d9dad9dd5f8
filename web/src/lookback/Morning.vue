<script setup lang="ts">
/** This morning, for the whole workspace: which tires want air before anyone kneels. */
import { computed } from 'vue'
import { rigName } from '@/rigs/queries'
import { answer, api } from '@/shared/api/client'
import FilterField from '@/shared/FilterField.vue'
import PageTurner from '@/shared/PageTurner.vue'
import { whileAnew } from '@/shared/soon'
import { say } from '@/shared/units'
import { useAsked } from '@/shared/useHere'
import { useCounted } from '@/shared/usePages'
import MorningList from './MorningList.vue'
import MorningRecord from './MorningRecord.vue'

const { asked, query } = useAsked('morning', { find: '' })
const list = useCounted(
  computed(() => ['yard', 'morning', query.value.find]),
  (first) => answer(api.GET('/api/v1/morning', { params: { query: { find: query.value.find, first } } })),
  (page) => page.rigs,
  (page) => page.found,
  (page) => whileAnew(page?.anew),
)
const { page: all, rows: rigs } = list
const asking = computed(() => rigs.value.filter((r) => r.asks))
const quiet = computed(() => rigs.value.filter((r) => !r.asks))
const spoken = (n: number) => n.toLocaleString('en-US')
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <h1>This morning, before anyone kneels</h1>
    <p class="max-w-2xl text-soft">
      Predicted from each tire's last service, what it loses, and today's air. An estimate: it says which to read first.
    </p>
    <p v-if="all" class="mt-3 flex flex-wrap gap-x-8 text-3xl font-bold">
      <span v-if="all.wanting" class="text-rust"
        >{{ spoken(all.wanting) }} {{ all.wanting === 1 ? 'tire wants' : 'tires want' }} air</span
      >
      <span v-if="all.unknown">{{ spoken(all.unknown) }} not known</span>
      <span :class="all.asking || !all.holding ? 'text-soft' : 'text-green'"
        >{{ spoken(all.holding) }} {{ all.holding === 1 ? 'holds' : 'hold' }}</span
      >
    </p>
    <p v-if="all?.anew" role="status" class="text-soft">
      {{ spoken(all.anew) }} {{ all.anew === 1 ? 'rig is' : 'rigs are' }} being worked out anew: nothing is foretold of
      {{ all.anew === 1 ? 'it' : 'them' }} yet.
    </p>
    <FilterField
      v-if="all && (all.found > all.page || asked.find)"
      v-model="asked.find"
      label="Filter the rigs"
      class="mt-4"
    >
      <span class="text-soft" role="status"
        >{{ spoken(all.asking) }} of {{ spoken(all.found) }} {{ all.asking === 1 ? 'asks' : 'ask' }} for somebody</span
      >
    </FilterField>
    <p v-if="asked.find && all && !all.found" class="mt-4 text-soft">
      No rig fits “{{ asked.find }}”. <button type="button" class="link" @click="asked.find = ''">Show all</button>
    </p>
    <section v-for="r in asking" :key="r.id" class="mt-5">
      <div class="flex flex-wrap items-baseline justify-between gap-x-6">
        <h2>
          <RouterLink :to="{ name: 'morning-rig', params: { id: r.id } }">{{ rigName(r) }}</RouterLink>
          <span class="font-normal text-soft"> · {{ say(r.words) }}</span>
        </h2>
        <RouterLink class="py-2" :to="{ name: 'rounds', params: { id: r.id } }">Open a round</RouterLink>
      </div>
      <MorningList :rig="r" class="mt-1" />
    </section>
    <section v-if="quiet.length" class="mt-6">
      <h2>Nothing asked</h2>
      <ul>
        <li v-for="r in quiet" :key="r.id" class="border-t border-hairline py-1.5 wrap-anywhere">
          <RouterLink :to="{ name: 'morning-rig', params: { id: r.id } }">{{ rigName(r) }}</RouterLink>
          <span class="text-soft"> · {{ say(r.words) }}</span>
        </li>
      </ul>
    </section>
    <PageTurner :list="list" class="mt-5" />
    <MorningRecord v-if="all" :record="all.record" class="mt-5" />
  </main>
</template>
