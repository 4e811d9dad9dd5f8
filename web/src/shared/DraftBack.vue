<script setup lang="ts">
/** That what was typed here before is back, and how to be rid of it. */
defineProps<{ taken: boolean }>()
const emit = defineEmits<{ away: [] }>()
</script>

<template>
  <p v-if="taken" class="mt-1 text-sm">
    Typed before and not saved yet.
    <button type="button" class="link" @click="emit('away')">Begin anew</button>
  </p>
</template>
