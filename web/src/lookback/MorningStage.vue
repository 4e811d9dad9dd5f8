<script setup lang="ts">
/** This morning, for one rig and what it tows. */
import { useQuery } from '@tanstack/vue-query'
import { useFrame } from '@/rigs/frame'
import { rigName } from '@/rigs/queries'
import { answer, api } from '@/shared/api/client'
import { say } from '@/shared/units'
import LookPages from './LookPages.vue'
import MorningList from './MorningList.vue'
import MorningRecord from './MorningRecord.vue'

const { id, sheet } = useFrame()
const { data } = useQuery({
  queryKey: ['rig', id, 'morning'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/morning', { params: { path: { rig_id: id.value } } })),
})
</script>

<template>
  <LookPages />
  <h1>This morning, before anyone kneels</h1>
  <p class="max-w-2xl text-soft">
    Each tire's last service, what it loses, and today's air. An estimate: it says which to read first, not how much to
    let out.
  </p>
  <section v-for="r in data?.rigs ?? []" :key="r.id" class="mt-5">
    <h2>
      <template v-if="(data?.rigs.length ?? 0) > 1">{{ rigName(r) }}: </template>{{ say(r.words) }}
    </h2>
    <MorningList :rig="r" class="mt-1" />
  </section>
  <RouterLink
    v-if="data"
    :to="{ name: 'rounds', params: { id } }"
    class="button mt-5"
    :class="{ 'button-next': data.rigs.some((r) => r.wanting || r.dawn) }"
    >{{ sheet.open_round ? 'Go on with the round' : 'Open a round' }}</RouterLink
  >
  <MorningRecord v-if="data" :record="data.record" class="mt-5" />
</template>
