<script setup lang="ts">
/** Who has which rounds, what was done of late, and the crews. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { moment } from '@/shared/units'
import Crews from './Crews.vue'
import DayRound from './DayRound.vue'
import { everybody } from './queries'

const who = ref('')
const { data } = useQuery(computed(() => ({ ...everybody(who.value), placeholderData: keepPreviousData })))
const all = computed(() => (data.value?.people ?? []).reduce((sum, p) => sum + p.rounds, 0))
</script>

<template>
  <template v-if="data">
    <p v-if="!all" class="mt-3 text-soft">
      Nobody has a round to do. Choose rigs in <RouterLink to="/">the Yard</RouterLink>, and give their rounds to
      somebody.
    </p>
    <div v-else class="mt-4 flex flex-wrap gap-2 text-sm" role="group" aria-label="Whose">
      <button type="button" class="press chip px-2.5 py-1" :aria-pressed="!who" @click="who = ''">
        Everybody <b>{{ all }}</b>
      </button>
      <button
        v-for="p in data.people"
        :key="p.key"
        type="button"
        class="press chip px-2.5 py-1"
        :aria-pressed="who === p.key"
        @click="who = who === p.key ? '' : p.key"
      >
        {{ p.name }} <b>{{ p.rounds }}</b><span v-if="p.over" class="font-semibold text-rust"> {{ p.over }} over</span>
      </button>
    </div>
    <ul class="mt-3">
      <li v-for="r in data.rounds" :key="r.id" class="border-t border-hairline"><DayRound :given="r" who /></li>
    </ul>
    <p v-if="data.found > data.rounds.length" class="text-soft">
      The first {{ data.rounds.length }} of {{ data.found }}. Choose somebody to see theirs.
    </p>
    <section v-if="data.done.length" class="mt-6">
      <h2>Done in the last seven days</h2>
      <ul>
        <li v-for="d in data.done" :key="d.round" class="border-t border-hairline py-1.5">
          <RouterLink :to="{ name: 'sealed', params: { id: d.rig, round: d.round } }">{{ d.name }}</RouterLink>
          <span class="text-soft">
            for {{ d.to }}, sealed {{ moment(d.at)
            }}<template v-if="d.by && d.by !== d.to"> by {{ d.by }}</template></span
          >
        </li>
      </ul>
    </section>
    <Crews class="mt-6" />
  </template>
</template>
