<script setup lang="ts">
/** What came when the round was sealed already: taken in as amendments, or left out. */
import { computed } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import { say, spokenDay } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ sealed: Schemas['SealedOut'] }>()
const emit = defineEmits<{ taken: [now: Schemas['SealedOut']] }>()
const { may } = useSession()
const when = (iso: string, zone: string) =>
  new Date(iso).toLocaleString('en-US', { dateStyle: 'long', timeStyle: 'short', timeZone: zone })
const late = computed(() => props.sealed.late.filter((e) => e.settled !== 'taken'))
const { save: settle, message: lateMessage } = useSave(async (entry: string, take: boolean) => {
  const now = await answer(
    api.PUT('/api/v1/rounds/{round_id}/late/{uuid}', {
      params: { path: { round_id: props.sealed.id, uuid: entry } },
      body: { take, reason: '' },
    }),
  )
  emit('taken', now)
})
async function settleAll() {
  for (const e of late.value) await settle(e.uuid, true)
}
</script>

<template>
  <section v-if="late.length" class="border-l-4 border-rust pl-4">
    <h2>Came late</h2>
    <p class="max-w-3xl text-soft">
      These came when the round was sealed already. They count for nothing until they are taken in.
    </p>
    <p v-for="e in late" :key="e.uuid" class="flex flex-wrap gap-x-3">
      <b
        >{{ e.name }} <span class="text-soft">{{ e.wheel }}</span></b
      >
      <span v-if="!e.note"
        >{{ e.after ? 'left' : 'found' }} <b>{{ e.typed }}</b> on {{ e.gauge }}</span
      >
      <span v-for="(w, i) in e.words" :key="i">{{ say(w) }}</span>
      <span class="text-soft"
        >{{ e.by }}, {{ e.read_at ? when(e.read_at, sealed.time_zone) : spokenDay(e.received_at)
        }}{{ e.settled === 'left' ? `; left out by ${e.settled_by}` : '' }}</span
      >
      <template v-if="may('rounds')">
        <button type="button" class="link" @click="settle(e.uuid, true)">Take it in</button>
        <button v-if="!e.settled" type="button" class="link" @click="settle(e.uuid, false)">Leave it out</button>
      </template>
    </p>
    <button v-if="may('rounds') && late.length > 1" type="button" class="link mt-1 font-semibold" @click="settleAll">
      Take all of them in
    </button>
    <Refusal :message="lateMessage" />
  </section>
</template>
