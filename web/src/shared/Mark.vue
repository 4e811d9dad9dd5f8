<script setup lang="ts">
/** The mark: a hull afloat to its load line. */
withDefaults(defineProps<{ size?: number }>(), { size: 26 })
</script>

<template>
  <svg :width="size" :height="size" viewBox="0 0 32 32" aria-hidden="true" class="shrink-0 text-ink">
    <path
      d="M4 9h24c0 10-4 18-12 18S4 19 4 9z"
      class="fill-paper"
      stroke="currentColor"
      stroke-width="2.4"
      stroke-linejoin="round"
    />
    <path d="M5.4 17h21.2C25 23 21.5 26 16 26S7 23 5.4 17z" class="fill-teal" />
    <path d="M16 3v5" stroke="currentColor" stroke-width="2.4" stroke-linecap="round" />
    <path d="M20 14h6" class="stroke-buoy" stroke-width="3" />
  </svg>
</template>
