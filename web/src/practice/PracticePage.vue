<script setup lang="ts">
/** Every exercise, how it went, and where to begin; for a manager who has done which. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answer, api, type Schemas } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { queries, takeSession, useSession } from '@/shared/session'
import { useSave } from '@/shared/useSave'
import { begin, goOn, practice } from './queries'

type Exercise = Schemas['ExerciseOut']
const route = useRoute()
const router = useRouter()
const { shown: session, may } = useSession()
const { data, refetch, error } = useQuery(practice)
const seesPeople = computed(() => may('people'))
const { data: people } = useQuery({
  queryKey: ['practice', 'people'],
  queryFn: () => answer(api.GET('/api/v1/practice/people')),
  enabled: seesPeople,
})
/** Asked for from a screen: its own come first. */
const stage = computed(() => String(route.query.stage ?? ''))
const LENGTHS = [
  { minutes: 2, name: 'Two minutes' },
  { minutes: 10, name: 'Ten minutes' },
]
const groups = computed(() => {
  const all = data.value?.exercises ?? []
  const asked = all.filter((e) => e.stage === stage.value)
  const rest = LENGTHS.map((l) => ({
    name: l.name,
    exercises: all.filter((e) => e.minutes === l.minutes && !asked.includes(e)),
  }))
  return [{ name: 'For where you were', exercises: asked }, ...rest].filter((g) => g.exercises.length)
})
const names = computed(() => new Map((data.value?.exercises ?? []).map((e) => [e.key, e.name])))
const went = (e: Exercise) =>
  e.best === null
    ? ''
    : e.done
      ? `Done, ${Math.round(e.best * 100)} of 100`
      : `Tried ${e.tries === 1 ? 'once' : `${e.tries} times`}`
const { save, busy, message } = useSave(async (e: Exercise, again: boolean) => {
  const open = data.value
  if (open?.workspace && open.open === e.key && !again) await goOn(open.workspace, router)
  else await begin(e.key, again, router)
})
const sure = ref(false)
const { save: forget, message: notForgotten } = useSave(async () => {
  queries.setQueryData(practice.queryKey, await answer(api.DELETE('/api/v1/practice')))
  sure.value = false
  if (session.value?.practice) takeSession(await answer(api.GET('/api/v1/session')))
})
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <h1>Practice</h1>
    <p class="mt-1 max-w-2xl text-soft">
      Made-up rigs with something hidden in them, on the same screens as the real ones. What you leave on record is
      judged. Nothing of it stands anywhere else, and how it went only you see.
    </p>
    <p v-if="error && !data" class="mt-4" role="alert">
      It could not be fetched. <button type="button" class="link" @click="() => refetch()">Try again</button>
    </p>
    <template v-else-if="data">
      <p class="mt-4 text-2xl font-bold">
        {{ data.done }} <span class="text-base font-normal text-soft">of {{ data.exercises.length }} done</span>
      </p>
      <Refusal :message="message" />
      <section v-for="g in groups" :key="g.name" class="mt-6">
        <h2>{{ g.name }}</h2>
        <ul class="mt-1">
          <li
            v-for="e in g.exercises"
            :key="e.key"
            class="grid items-center gap-x-6 gap-y-1 border-t border-hairline py-2.5 sm:grid-cols-[1fr_9rem_auto]"
          >
            <div>
              <p class="font-semibold">{{ e.name }}</p>
              <p class="text-soft">{{ e.goal }}</p>
            </div>
            <p :class="e.done ? 'font-semibold text-green' : 'text-soft'">{{ went(e) }}</p>
            <div class="flex flex-wrap items-center gap-x-4 sm:justify-end">
              <button v-if="e.tries" type="button" class="link" :disabled="busy" @click="save(e, true)">
                Same numbers
              </button>
              <button
                type="button"
                class="button"
                :class="{ 'button-next': data.open === e.key }"
                :disabled="busy"
                :aria-label="`${data.open === e.key ? 'Go on' : 'Begin'}: ${e.name}`"
                @click="save(e, false)"
              >
                {{ data.open === e.key ? 'Go on' : 'Begin' }}
              </button>
            </div>
          </li>
        </ul>
      </section>
      <section v-if="people?.length" class="mt-8">
        <h2>Who has done what</h2>
        <p class="text-soft">How it went only they see.</p>
        <ul class="mt-1">
          <li v-for="p in people" :key="p.name" class="flex flex-wrap gap-x-4 border-t border-hairline py-2">
            <b class="w-44">{{ p.name }}</b>
            <span class="w-20">{{ p.done.length }} of {{ data.exercises.length }}</span>
            <span class="min-w-0 flex-1 text-soft">{{ p.done.map((k) => names.get(k)).join(', ') || 'none yet' }}</span>
          </li>
        </ul>
      </section>
      <p class="mt-8">
        <button type="button" class="link" @click="sure ? forget() : (sure = true)">
          {{ sure ? 'Really forget how everything went' : 'Begin practice anew' }}
        </button>
        <button v-if="sure" type="button" class="link ml-4" @click="sure = false">Keep it</button>
      </p>
      <Refusal :message="notForgotten" />
    </template>
    <p v-else class="mt-4 text-soft">Fetching the exercises …</p>
  </main>
</template>
