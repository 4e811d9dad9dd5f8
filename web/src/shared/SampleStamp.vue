<script setup lang="ts">
/** Stands wherever a sample table had a part in a number. */
</script>

<template>
  <p class="inline-block -rotate-1 border-2 border-rust px-2 py-0.5 text-sm font-bold text-rust">
    Sample table: made up, not for the road
  </p>
</template>
