<script setup lang="ts">
/** What somebody did here, the newest first. */
import { computed, toRef } from 'vue'
import { answer, api, missing } from '@/shared/api/client'
import Awaited from '@/shared/Awaited.vue'
import PageTurner from '@/shared/PageTurner.vue'
import { moment } from '@/shared/units'
import { usePages } from '@/shared/usePages'

const props = defineProps<{ person: number }>()
const person = toRef(props, 'person')
const list = usePages(
  computed(() => ['people', person.value, 'deeds']),
  (past: string | undefined) =>
    answer(
      api.GET('/api/v1/people/{member_id}/deeds', {
        params: { path: { member_id: person.value }, query: past ? { past } : {} },
      }),
    ),
  (page) => page.deeds,
  (page) => page.next,
)
const { page, rows, error, refetch } = list
</script>

<template>
  <Awaited v-if="!page || missing(error)" what="The list" :error="error" @again="refetch()" />
  <main v-else id="stage" class="mx-auto max-w-3xl px-4 py-6 lg:px-7">
    <RouterLink to="/people">People and settings</RouterLink>
    <h1 class="mt-2">What {{ page.name }} did</h1>
    <ul class="mt-4">
      <li
        v-for="(d, i) in rows"
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
    <p v-if="!rows.length" class="mt-3 text-soft">Nothing yet.</p>
    <PageTurner :list="list" back="What came after" on="What was before" class="mt-3" />
  </main>
</template>
