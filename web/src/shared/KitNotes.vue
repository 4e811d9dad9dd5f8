<script setup lang="ts">
/** What a trip or a round lacks of what rides with a rig; before a round also what is to be known of its valves. */
import { toRef } from 'vue'
import { useKit } from './kit'
import { say } from './units'

const props = defineProps<{ rig: number; use: 'trip' | 'round' }>()
const { data } = useKit(toRef(props, 'rig'))
</script>

<template>
  <section v-if="data">
    <h2>To take along</h2>
    <ul class="mt-1 max-w-3xl">
      <li v-for="(words, i) in data.lacks[use]" :key="`l${i}`">{{ say(words) }}</li>
      <li v-if="!data.lacks[use].length" class="text-soft">All that is wanted rides with it.</li>
      <template v-if="use === 'round'">
        <li v-for="(words, i) in data.valves" :key="`v${i}`">{{ say(words) }}</li>
      </template>
    </ul>
    <RouterLink class="link" :to="{ name: 'kit', params: { id: rig } }">What rides with it</RouterLink>
  </section>
</template>
