<script setup lang="ts">
/** Stands wherever a sample table had a part in a number. */
</script>

<template>
  <p class="stamp">Sample table: made up, not for the road</p>
</template>
