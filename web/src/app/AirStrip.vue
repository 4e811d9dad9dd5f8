<script setup lang="ts">
/** The air that the rig in view stands in, and the gauge in hand. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { openRound, sheet } from '@/rigs/queries'
import { say, show, showWhole } from '@/shared/units'

const route = useRoute()
const id = computed(() => (route.params.id ? Number(route.params.id) : null))
const { data } = useQuery(sheet(id))
const round = useQuery(openRound(computed(() => data.value?.open_round ?? null)))

const parts = computed(() => {
  const air = data.value?.air.air
  if (!id.value || !air) return []
  const entries: [string, string][] = []
  if (air.outside_c !== null) entries.push(['Outside', show('temperature', air.outside_c)])
  if (air.dawn_c !== null) entries.push(['Dawn low', show('temperature', air.dawn_c)])
  if (air.elevation_m !== null) entries.push(['Elevation', showWhole('length', air.elevation_m)])
  if (air.source === 'none') entries.push(['Air', say(data.value!.air.words)])
  if (round.data.value) entries.push(['Gauge', round.data.value.gauge_label])
  return entries
})
</script>

<template>
  <div v-if="parts.length" tabindex="0" role="group" aria-label="Air and gauge">
    <dl class="flex gap-4 text-[13.5px] whitespace-nowrap">
      <div v-for="[name, value] in parts" :key="name" class="flex gap-1">
        <dt class="text-soft">{{ name }}</dt>
        <dd class="font-bold">{{ value }}</dd>
      </div>
    </dl>
  </div>
</template>
