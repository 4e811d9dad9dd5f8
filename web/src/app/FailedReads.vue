<script setup lang="ts">
/** What this page could not read, by name, with a way to try again: nothing that failed looks empty. */
import { useIsFetching, useQueryClient, type Query } from '@tanstack/vue-query'
import { computed, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { refusedOf } from '@/shared/api/client'

/** By parts of a query's key: the first that fits counts. The session, the Yard and a rig's sheet tell it themselves. */
const NAMES: [string[], string][] = [
  [['gauges', 'devices'], 'The devices in reach'],
  [['gauges'], 'The gauges'],
  [['inflators'], 'The inflators'],
  [['tables'], 'The tables'],
  [['samples'], 'The sample tables'],
  [['scales'], 'The scales'],
  [['places'], 'The places of the weather service'],
  [['people'], 'The people'],
  [['archived'], 'The rigs put away'],
  [['morning'], 'This morning'],
  [['card'], 'The pressure card'],
  [['tire'], 'Where this tire has been'],
  [['round', 'offline'], 'What the round takes along for times without a network'],
  [['round'], 'The round'],
  [['rig', 'tires'], 'The tires'],
  [['rig', 'weighings'], 'The weighings'],
  [['rig', 'targets'], 'The earlier targets'],
  [['rig', 'load-states'], 'The load states'],
  [['rig', 'chalk'], 'The chalk results'],
  [['rig', 'trip'], 'The trip'],
  [['rig', 'equipment'], 'Which gauges and inflators suit'],
  [['rig', 'lookback'], 'The past of this rig'],
  [['rig', 'sealed'], 'The sealed rounds'],
  [['rig', 'drift'], 'The drift'],
  [['rig', 'history'], 'What was changed'],
  [['rig', 'sensors'], 'Its sensors and alarms'],
  [['rig', 'kit'], 'What rides with it'],
  [['rig', 'morning'], 'The prediction of this morning'],
  [['rig', 'walk'], 'The walking order'],
  [['rig', 'guide'], 'The guide of the scale'],
  [['rig', 'left'], 'What rounds left to be seen to'],
  [['rig'], 'Something of this rig'],
]
const TOLD_ELSEWHERE = ['session', 'yard', 'sheet']

const client = useQueryClient()
const failed = shallowRef<Query[]>([])
const nameOf = (query: Query) => {
  const key = query.queryKey.map(String)
  return NAMES.find(([start]) => start[0] === key[0] && start.every((part) => key.includes(part)))?.[1] ?? 'Something'
}
const reading = useIsFetching()
const route = useRoute()
// Each time something was asked or answered, or another page came.
watch([reading, () => route.fullPath], () => {
  failed.value = client
    .getQueryCache()
    .getAll()
    .filter(
      (q) =>
        q.state.status === 'error' &&
        q.getObserversCount() > 0 &&
        !TOLD_ELSEWHERE.includes(String(q.queryKey[0])) &&
        // Without a network the page goes on by what it carries.
        !(q.meta?.carried && refusedOf(q.state.error).unreachable) &&
        // Not to be seen by this person, or not there: the page says so itself.
        ![401, 403, 404].includes(refusedOf(q.state.error).status),
    )
})
/** Read in two ways and failed in both, it is told once. */
const told = computed(() => [
  ...new Set(failed.value.map((q) => `${nameOf(q)} could not be read: ${refusedOf(q.state.error).message}`)),
])
const again = () => failed.value.forEach((q) => void q.fetch())
</script>

<template>
  <div v-if="failed.length" class="border-l-4 border-rust bg-rustwash px-4 py-2 print:hidden" role="alert">
    <p v-for="line in told" :key="line">{{ line }}</p>
    <button type="button" class="link min-h-10" @click="again">Try again</button>
  </div>
</template>
