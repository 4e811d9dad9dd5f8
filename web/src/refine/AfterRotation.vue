<script setup lang="ts">
/** What is to be done after tires changed places: air first, then nuts, sensors, chalk. */
import { ref } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { useSession } from '@/shared/session'
import { useOpened } from '@/shared/useOpened'
import { airShown } from './moves'

defineProps<{ done: Schemas['RotationWork'] }>()
const { may } = useSession()
const box = ref<HTMLElement>()
useOpened(box)
</script>

<template>
  <section ref="box" class="mt-4 max-w-3xl border-l-4 border-buoy bg-paper px-4 py-3" role="status">
    <h2>Moved. Before it rolls</h2>
    <template v-if="done.air.length">
      <p class="mt-1">
        <b>Air:</b> {{ done.air.map((j) => `${j.code} ${airShown(j.from_kpa)} → ${airShown(j.to_kpa)}`).join(', ') }}
      </p>
      <RouterLink
        v-if="may('rounds')"
        class="button button-next mt-2"
        :to="{ name: 'rounds', params: { id: done.head }, query: { only: done.codes.join(',') } }"
        >Read just these wheels</RouterLink
      >
    </template>
    <ul class="mt-2 list-disc pl-5">
      <li>Torque the nuts now, and again after the first drive: the rig reminds of it.</li>
      <li v-if="done.sensors">Sensors moved with their tires: have the receiver learn where they are.</li>
      <li v-for="axle in done.chalk" :key="axle">{{ axle }}: the chalk said it of other tires. Ask it again.</li>
    </ul>
  </section>
</template>
