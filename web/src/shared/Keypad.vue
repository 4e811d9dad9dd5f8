<script setup lang="ts">
/** Large keys for a thumb in a glove, the one to go on with under it. */
defineProps<{ keep: string }>()
const emit = defineEmits<{ key: [key: string]; keep: [] }>()
const KEYS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '.', '0']
const KEY =
  'h-13 cursor-pointer touch-manipulation rounded-md border border-hairline bg-paper text-2xl font-bold active:bg-tealwash'
</script>

<template>
  <div class="grid grid-cols-[1fr_1fr_1fr_1.25fr] gap-1.5" role="group" aria-label="Keypad">
    <button
      v-for="(k, i) in KEYS"
      :key="k"
      type="button"
      :class="KEY"
      :style="{ gridColumn: k === '0' ? '2 / span 2' : (i % 3) + 1, gridRow: Math.floor(i / 3) + 1 }"
      :aria-label="k === '.' ? 'Point' : k"
      @click="emit('key', k)"
    >
      {{ k }}
    </button>
    <button
      type="button"
      :class="KEY"
      class="col-start-4 row-start-1"
      aria-label="Delete the last digit"
      @click="emit('key', 'back')"
    >
      <svg
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
    </button>
    <button
      type="button"
      class="button button-next col-start-4 row-span-3 row-start-2 touch-manipulation text-xl whitespace-normal"
      @click="emit('keep')"
    >
      {{ keep }}
    </button>
  </div>
</template>
