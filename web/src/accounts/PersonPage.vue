<script setup lang="ts">
/** What somebody did here, the newest first. */
import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed, toRef } from 'vue'
import { answer, api, missing } from '@/shared/api/client'
import Awaited from '@/shared/Awaited.vue'
import { moment } from '@/shared/units'

const props = defineProps<{ person: number }>()
const person = toRef(props, 'person')
const { data, error, refetch, hasNextPage, fetchNextPage, isFetching } = useInfiniteQuery({
  queryKey: ['people', person, 'deeds'],
  queryFn: ({ pageParam }) =>
    answer(
      api.GET('/api/v1/people/{member_id}/deeds', {
        params: { path: { member_id: person.value }, query: pageParam ? { before: pageParam } : {} },
      }),
    ),
  initialPageParam: '',
  getNextPageParam: (last) => (last.more ? last.deeds.at(-1)!.at : undefined),
})
const name = computed(() => data.value?.pages[0]?.name ?? '')
const deeds = computed(() => data.value?.pages.flatMap((p) => p.deeds) ?? [])
</script>

<template>
  <Awaited v-if="!data || missing(error)" what="The list" :error="error" @again="refetch()" />
  <main v-else id="stage" class="mx-auto max-w-3xl px-4 py-6 lg:px-7">
    <RouterLink to="/people">People and settings</RouterLink>
    <h1 class="mt-2">What {{ name }} did</h1>
    <ul class="mt-4">
      <li
        v-for="(d, i) in deeds"
        :key="i"
        class="grid gap-x-5 border-t border-hairline py-1.5 sm:grid-cols-[12rem_minmax(0,1fr)]"
      >
        <span class="text-soft">{{ moment(d.at) }}</span>
        <span
          >{{ d.words
          }}<template v-if="d.rig"
            >: <RouterLink :to="{ name: 'rig', params: { id: d.rig } }">{{ d.name }}</RouterLink></template
          ></span
        >
      </li>
    </ul>
    <p v-if="!deeds.length" class="mt-3 text-soft">Nothing yet.</p>
    <button v-if="hasNextPage" type="button" class="link mt-3" :disabled="isFetching" @click="fetchNextPage()">
      What was before
    </button>
  </main>
</template>
