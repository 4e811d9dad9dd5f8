<script setup lang="ts">
/** What is wrong, beside what it is about. */
defineProps<{ id?: string; message?: string | undefined }>()
</script>

<template>
  <p v-if="message" :id="id" class="refusal" role="alert">{{ message }}</p>
</template>
