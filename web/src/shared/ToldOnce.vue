<script setup lang="ts">
/** A secret that is told this once. */
defineProps<{ what: string; secret: string }>()
</script>

<template>
  <p role="status" class="border-l-4 border-teal bg-paper px-4 py-2">
    {{ what }}, shown this once: <code class="font-bold break-all">{{ secret }}</code>
  </p>
</template>
