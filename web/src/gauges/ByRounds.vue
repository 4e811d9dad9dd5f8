<script setup lang="ts">
/** What rounds say of the gauges, loud where they found one out. */
import Banner from '@/shared/Banner.vue'
import Opening from '@/shared/Opening.vue'
import { say } from '@/shared/units'
import { useByRounds } from '@/shared/useByRounds'

const { data, named } = useByRounds()
</script>

<template>
  <section v-if="data?.length" aria-label="Gauges by their rounds">
    <Banner v-for="g in named" :key="g.gauge" loud class="mb-2"
      ><RouterLink :to="{ name: 'gauge', params: { gauge: g.gauge } }" class="font-bold">{{
        say(g.words)
      }}</RouterLink></Banner
    >
    <Opening label="What rounds say of the gauges">
      <ul>
        <li v-for="g in data" :key="g.gauge" class="border-t border-hairline py-1">{{ say(g.words) }}</li>
      </ul>
    </Opening>
  </section>
</template>
