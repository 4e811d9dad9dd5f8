<script setup lang="ts">
/** What is due and when, over all rigs and gauges; and who is told where. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import FilterField from '@/shared/FilterField.vue'
import Presses from '@/shared/Presses.vue'
import { say, spokenDay } from '@/shared/units'
import Feeds from './Feeds.vue'
import MorningMail from './MorningMail.vue'

type Kind = Schemas['KindCountOut']['key']
const AHEAD = [
  { key: 0, name: 'today' },
  { key: 7, name: 'a week' },
  { key: 60, name: 'two months' },
  { key: 400, name: 'a year' },
]
const typed = ref('')
const find = refDebounced(typed, 150)
const kinds = ref<Kind[]>([])
const days = ref(60)
const first = ref(0)
watch([find, kinds, days], () => (first.value = 0))
const query = computed(() => ({ find: find.value, kinds: kinds.value, days: days.value, first: first.value }))
const { data } = useQuery({
  queryKey: ['yard', 'schedule', query],
  queryFn: () => answer(api.GET('/api/v1/schedule', { params: { query: query.value } })),
  placeholderData: keepPreviousData,
})
const press = (kind: Kind) =>
  (kinds.value = kinds.value.includes(kind) ? kinds.value.filter((k) => k !== kind) : [...kinds.value, kind])
/** One heading a day; what is past or was never done stands under one. */
const byDay = computed(() => {
  const groups: { head: string; over: boolean; dues: Schemas['DueOut'][] }[] = []
  for (const due of data.value?.dues ?? []) {
    const head = due.over ? 'Due' : spokenDay(due.on!)
    if (groups.at(-1)?.head !== head) groups.push({ head, over: due.over, dues: [] })
    groups.at(-1)!.dues.push(due)
  }
  return groups
})
</script>

<template>
  <main id="stage" class="mx-auto max-w-4xl px-4 py-6 lg:px-7">
    <h1>What is due</h1>
    <div class="mt-4 flex flex-wrap items-center justify-between gap-3">
      <FilterField v-model="typed" label="Filter what is due" />
      <div class="flex flex-wrap items-center gap-1 text-sm" role="group" aria-label="How far ahead">
        <span class="mr-1 text-soft">Ahead</span>
        <Presses v-model="days" :choices="AHEAD" look="quiet rounded-md px-2 py-1" />
      </div>
    </div>
    <template v-if="data">
      <div class="mt-3 flex flex-wrap items-center gap-2 text-sm" role="group" aria-label="Only">
        <button
          v-for="k in data.kinds"
          :key="k.key"
          type="button"
          class="press chip px-2.5 py-1"
          :aria-pressed="kinds.includes(k.key)"
          @click="press(k.key)"
        >
          {{ k.name }} <b>{{ k.count }}</b>
        </button>
        <span class="text-soft" role="status"
          >{{ data.found }} in all, {{ data.over }} by now<template v-if="data.anew"
            >; {{ data.anew }} rigs being worked out</template
          ></span
        >
      </div>
      <section v-for="g in byDay" :key="g.head" class="mt-5">
        <h2 :class="{ 'text-rust': g.over }">{{ g.head }}</h2>
        <ul>
          <li
            v-for="(d, i) in g.dues"
            :key="i"
            class="grid gap-x-5 border-t border-hairline py-1.5 sm:grid-cols-[14rem_9rem_minmax(0,1fr)]"
          >
            <RouterLink
              :to="
                d.rig
                  ? {
                      name: d.kind === 'weigh' ? 'weighing' : d.kind === 'round' ? 'rounds' : 'rig',
                      params: { id: d.rig },
                    }
                  : { name: 'gauge', params: { gauge: d.gauge! } }
              "
              class="font-bold wrap-anywhere"
              >{{ d.name }}</RouterLink
            >
            <span>{{ d.kind_name }}</span>
            <span class="text-soft"
              >{{ say(d.why) }}<template v-if="d.over && d.on">; due {{ spokenDay(d.on) }}</template></span
            >
          </li>
        </ul>
      </section>
      <p v-if="!data.dues.length" class="mt-5 text-soft">Nothing is due in that time.</p>
      <p v-if="data.found > data.page" class="mt-4 flex gap-6">
        <button v-if="first" type="button" class="link" @click="first -= data.page">Earlier</button>
        <button v-if="first + data.page < data.found" type="button" class="link" @click="first += data.page">
          Later
        </button>
      </p>
    </template>
    <Feeds class="mt-8" />
    <MorningMail class="mt-6" />
  </main>
</template>
