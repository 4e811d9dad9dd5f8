<script setup lang="ts">
/** What is wrong, beside what it is about. */
import { useRefusal } from './refusals'

const props = defineProps<{ id?: string; name?: string; message?: string | undefined }>()
const refusal = useRefusal(props)
</script>

<template>
  <p v-if="refusal" :id="id" class="refusal" role="alert">{{ refusal }}</p>
</template>
