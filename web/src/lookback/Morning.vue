<script setup lang="ts">
/** This morning, for the whole workspace: which tires want air before anyone kneels. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { rigName } from '@/rigs/queries'
import { answer, api } from '@/shared/api/client'
import { say } from '@/shared/units'
import MorningList from './MorningList.vue'
import MorningRecord from './MorningRecord.vue'

const { data } = useQuery({
  queryKey: ['yard', 'morning'],
  queryFn: () => answer(api.GET('/api/v1/morning')),
})
const count = computed(() => {
  const sum = (of: 'wanting' | 'holding' | 'unknown') => (data.value?.rigs ?? []).reduce((total, r) => total + r[of], 0)
  return { wanting: sum('wanting'), holding: sum('holding'), unknown: sum('unknown') }
})
const asking = computed(() => (data.value?.rigs ?? []).filter((r) => r.asks))
const quiet = computed(() => (data.value?.rigs ?? []).filter((r) => !r.asks))
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <h1>This morning, before anyone kneels</h1>
    <p class="max-w-2xl text-soft">
      Predicted from each tire's last service, what it loses, and today's air. An estimate: it says which to read first.
    </p>
    <p v-if="data" class="mt-3 flex flex-wrap gap-x-8 text-3xl font-bold">
      <span v-if="count.wanting" class="text-rust"
        >{{ count.wanting }} {{ count.wanting === 1 ? 'tire wants' : 'tires want' }} air</span
      >
      <span v-if="count.unknown">{{ count.unknown }} not known</span>
      <span :class="count.wanting || count.unknown || !count.holding ? 'text-soft' : 'text-green'"
        >{{ count.holding }} {{ count.holding === 1 ? 'holds' : 'hold' }}</span
      >
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
    <MorningRecord v-if="data" :record="data.record" class="mt-5" />
  </main>
</template>
