<script setup lang="ts">
/** What rounds say of the gauges, loud where they found one out. */
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import Banner from '@/shared/Banner.vue'
import { answer, api } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import { say } from '@/shared/units'

/** `here`: the gauges that say it themselves where this stands. */
const props = defineProps<{ here: number[] }>()
const { data } = useQuery({
  queryKey: ['gauges', 'by-rounds'],
  queryFn: () => answer(api.GET('/api/v1/gauges-by-rounds')),
})
const elsewhere = computed(() => data.value?.filter((g) => g.named && !props.here.includes(g.gauge)))
</script>

<template>
  <section v-if="data?.length" aria-label="Gauges by their rounds">
    <Banner v-for="g in elsewhere" :key="g.gauge" loud class="mb-2"
      ><RouterLink :to="{ name: 'gauge', params: { gauge: g.gauge } }" class="font-bold text-rust">{{
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
