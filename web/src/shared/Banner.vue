<script setup lang="ts">
/** What must not be overlooked, where it applies. Overloads and stops are loud, the rest is calm. */
defineProps<{ loud?: boolean }>()
</script>

<template>
  <div
    role="status"
    class="border-l-4 px-4 py-2.5"
    :class="loud ? 'border-rust bg-rustwash text-ink' : 'border-hairline bg-paper text-soft'"
  >
    <slot />
  </div>
</template>
