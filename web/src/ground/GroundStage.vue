<script setup lang="ts">
/** Leave the road and come back: a plan to open, or the one that is open. */
import { computed } from 'vue'
import { useFrame } from '@/rigs/frame'
import { say } from '@/shared/units'
import { adrift } from '@/shared/kept'
import Banner from '@/shared/Banner.vue'
import { withdraw } from '@/shared/outbox'
import GroundPages from './GroundPages.vue'
import GroundWalk from './GroundWalk.vue'
import PlanForm from './PlanForm.vue'
import { useGround } from './useGround'

const here = useGround()
const { sheet } = useFrame()
const ground = computed(() => here.data)
</script>

<template>
  <GroundPages />
  <ul v-if="here.refused.length" class="mb-3" role="alert">
    <li v-for="u in here.refused" :key="u.uuid" class="text-rust">
      {{ u.refused }} <button type="button" class="link" @click="withdraw(u.uuid)">Take it back</button>
    </li>
  </ul>
  <Banner v-if="adrift && ground" class="mb-3" loud
    >No network: numbers are as of {{ new Date(ground.made_at).toLocaleString('en-US') }}; what you do is kept and sent
    later.</Banner
  >
  <GroundWalk v-if="ground && here.open" :here="here" :ground="ground" :plan="here.open" />
  <template v-else-if="ground">
    <h1>Leave the road, and come back</h1>
    <p v-if="ground.refused" class="mt-3 max-w-2xl border-l-4 border-buoy bg-paper px-4 py-3 text-lg font-semibold">
      {{ say(ground.refused) }}
      <RouterLink v-if="!sheet.targets" class="ml-2" :to="{ name: 'targets', params: { id: here.head } }"
        >Put a target in force</RouterLink
      >
    </p>
    <PlanForm :here="here" :ground="ground" />
  </template>
  <p v-else class="text-soft">Fetching the numbers …</p>
</template>
