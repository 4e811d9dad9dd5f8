<script setup lang="ts">
/** What rounds say of each gauge: found out where a rig is read with another than the time before. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import Opening from '@/shared/Opening.vue'
import { say } from '@/shared/units'

const { data } = useQuery({
  queryKey: ['gauges', 'by-rounds'],
  queryFn: () => answer(api.GET('/api/v1/gauges-by-rounds')),
})
const named = computed(() => (data.value ?? []).filter((g) => g.named))
</script>

<template>
  <section v-if="data?.length" aria-label="Gauges by their rounds">
    <Banner v-for="g in named" :key="g.gauge" loud class="mb-2"
      ><RouterLink :to="{ name: 'gauge', params: { gauge: g.gauge } }">{{ g.label }}</RouterLink
      >: <b>{{ say(g.words) }}</b></Banner
    >
    <Opening label="What rounds say of the gauges">
      <ul>
        <li v-for="g in data" :key="g.gauge" class="border-t border-hairline py-1">{{ say(g.words) }}</li>
      </ul>
    </Opening>
  </section>
</template>
