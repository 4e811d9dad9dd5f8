<script setup lang="ts">
/** Each sealed round in two sentences, leak or weather; those before them as they are wanted. */
import { computed, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { say, show, showWhole, spokenDay } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ of: Schemas['LookBackOut'] }>()
const { id } = useFrame()
const all = ref(false)
/** Rounds before those that Look back brings, asked for as they are wanted. */
const before = ref<Schemas['SealedRoundsOut'][]>([])
watch(
  () => props.of,
  () => (before.value = []),
)
const listed = computed(() => [...props.of.rounds, ...before.value.flatMap((e) => e.rounds)])
const more = computed(() => (before.value.at(-1) ?? props.of).more)
const {
  save: reach,
  busy,
  message,
} = useSave(async () => {
  const params = { path: { rig_id: id.value }, query: { before: listed.value.at(-1)!.id } }
  before.value.push(await answer(api.GET('/api/v1/lookback/{rig_id}/rounds', { params })))
})
</script>

<template>
  <section class="mt-6">
    <h2>Leak or weather, round by round</h2>
    <ol class="mt-1">
      <li v-for="r in all ? listed : listed.slice(0, 12)" :key="r.id" class="border-t border-hairline py-3">
        <div class="flex flex-wrap items-baseline justify-between gap-x-6">
          <h3 class="font-bold">
            <RouterLink :to="{ name: 'sealed', params: { id, round: r.id } }">{{ spokenDay(r.at) }}</RouterLink>
            <span class="font-normal text-soft"> · {{ r.summary }}</span>
          </h3>
          <p class="text-sm text-soft">
            {{ r.by }}, gauge {{ r.gauge }}, {{ r.place || 'by hand' }} {{ show('temperature', r.outside_c) }},
            {{ showWhole('length', r.elevation_m) }}{{ r.amended ? ', put right since' : '' }}
          </p>
        </div>
        <p v-for="(w, i) in r.words" :key="i" :class="{ 'font-medium text-rust': i === 0 && r.odd }">
          {{ say(w) }}
        </p>
      </li>
    </ol>
    <button v-if="listed.length > 12 && !all" type="button" class="link" @click="all = true">
      {{ more ? `The last ${listed.length} rounds` : `All ${listed.length} rounds` }}
    </button>
    <button v-else-if="more" type="button" class="link" :disabled="busy" @click="reach()">
      Rounds before {{ spokenDay(listed.at(-1)!.at) }}
    </button>
    <Refusal :message="message" />
  </section>
</template>
