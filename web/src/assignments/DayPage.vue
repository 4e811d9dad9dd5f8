<script setup lang="ts">
/** What somebody has to do today, the first first; and who has what. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { refusedOf } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import { adrift } from '@/shared/kept'
import Presses from '@/shared/Presses.vue'
import { clock, say } from '@/shared/units'
import DayRound from './DayRound.vue'
import Everybody from './Everybody.vue'
import { ownDay, takeAlong } from './queries'

const route = useRoute()
const router = useRouter()
const whose = ref<'own' | 'all'>(route.query.whose === 'all' ? 'all' : 'own')
watch(whose, (now) => void router.replace({ query: now === 'all' ? { whose: 'all' } : {} }))
const { data, error, refetch } = useQuery(ownDay)
watch(data, (now) => now && setTimeout(() => void takeAlong(now.rounds), 500), { immediate: true })
const nothing = computed(() => data.value && !data.value.rounds.length && !data.value.later.length)
</script>

<template>
  <main id="stage" class="mx-auto max-w-3xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <h1>{{ whose === 'own' ? 'Your day' : 'Who has what' }}</h1>
      <div class="flex rounded-md border border-hairline" role="group" aria-label="Whose rounds">
        <Presses
          v-model="whose"
          :choices="[
            { key: 'own' as const, name: 'Yours' },
            { key: 'all' as const, name: 'Everybody’s' },
          ]"
          look="quiet min-h-9.5 px-3"
        />
      </div>
    </div>
    <Everybody v-if="whose === 'all'" />
    <template v-else>
      <p v-if="error && !data" class="mt-6" role="alert">
        {{ refusedOf(error).message }}
        <button type="button" class="link" @click="() => refetch()">Try again</button>
      </p>
      <template v-else-if="data">
        <Banner v-if="adrift" class="mt-4"
          >The server does not answer. This is your day as it was last read; what was opened here before can be worked
          on.</Banner
        >
        <p class="mt-2 text-2xl font-bold" role="status">{{ say(data.words) }}</p>
        <ol class="mt-3">
          <li v-for="(r, i) in data.rounds" :key="r.id" class="border-t border-hairline">
            <DayRound :given="r" :at="i + 1" />
          </li>
        </ol>
        <p v-if="nothing" class="mt-2 text-soft">
          Rounds that are given to you stand here. What asks in the whole yard stands in
          <RouterLink to="/">the Yard</RouterLink>.
        </p>
        <section v-if="data.later.length" class="mt-6">
          <h2>Later</h2>
          <ul>
            <li v-for="r in data.later" :key="r.id" class="border-t border-hairline"><DayRound :given="r" /></li>
          </ul>
        </section>
        <section v-if="data.done.length" class="mt-6">
          <h2>Done today</h2>
          <ul>
            <li v-for="d in data.done" :key="d.round" class="border-t border-hairline py-1.5">
              <RouterLink :to="{ name: 'sealed', params: { id: d.rig, round: d.round } }">{{ d.name }}</RouterLink>
              <span class="text-soft"> sealed {{ clock(d.at) }}</span>
            </li>
          </ul>
        </section>
      </template>
    </template>
  </main>
</template>
