<script setup lang="ts">
import type { Schemas } from './api/client'
import { say } from './units'

defineProps<{ phrase: Schemas['PhraseOut'] }>()
</script>

<template>
  <span>{{ say(phrase) }}</span>
</template>
