<script setup lang="ts">
/** Overloads stand on every screen of a rig, with the caution. */
import type { Schemas } from './api/client'
import Banner from './Banner.vue'
import { say } from './units'

defineProps<{ over: Schemas['Phrase'][]; caution?: string | undefined }>()
</script>

<template>
  <Banner v-if="over.length" loud>
    <p v-for="(o, i) in over" :key="i" class="font-semibold text-rust">{{ say(o) }}</p>
    <p v-if="caution" class="text-sm">{{ caution }}</p>
  </Banner>
</template>
