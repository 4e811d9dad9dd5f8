<script setup lang="ts">
/** Large keys for a thumb in a glove. */
const emit = defineEmits<{ key: [key: string] }>()
const KEYS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '.', '0', 'back']
</script>

<template>
  <div class="grid grid-cols-3 gap-1.5" role="group" aria-label="Keypad">
    <button
      v-for="k in KEYS"
      :key="k"
      type="button"
      class="h-14 cursor-pointer touch-manipulation rounded-md border border-hairline bg-paper text-2xl font-bold active:bg-tealwash"
      :aria-label="k === 'back' ? 'Delete the last digit' : k === '.' ? 'Point' : k"
      @click="emit('key', k)"
    >
      <svg
        v-if="k === 'back'"
        class="mx-auto"
        width="26"
        height="20"
        viewBox="0 0 26 20"
        aria-hidden="true"
        fill="none"
        stroke="currentColor"
        stroke-width="2"
      >
        <path d="M8 2h16v16H8L1 10zM12 7l6 6M18 7l-6 6" />
      </svg>
      <template v-else>{{ k }}</template>
    </button>
  </div>
</template>
