<script setup lang="ts">
/** The keys under the thumb: pinned at the bottom of a phone, they stand still whatever grows above them. */
import Keypad from '@/shared/Keypad.vue'
import type { Typing } from './useEntry'

const props = defineProps<{ typing: Typing; large: boolean }>()
const emit = defineEmits<{ letter: [code: string] }>()
/** What is noted with a thumb, above the keypad. */
const QUICK = [
  { name: 'Leak', press: () => emit('letter', 'KeyL') },
  { name: 'Cap', press: () => emit('letter', 'KeyC') },
  { name: 'Skip', press: () => emit('letter', 'KeyS') },
  { name: 'Undo', press: () => void props.typing.undo() },
]
</script>

<template>
  <div
    class="bg-paper max-lg:fixed max-lg:inset-x-0 max-lg:bottom-0 max-lg:z-20 max-lg:border-t max-lg:border-hairline max-lg:p-2 max-lg:beside:left-1/2 max-lg:beside:border-l lg:mt-3"
    :class="{ 'lg:hidden': !large }"
  >
    <div class="mb-1.5 grid grid-cols-4 gap-1.5" role="group" aria-label="At this wheel">
      <button
        v-for="q in QUICK"
        :key="q.name"
        type="button"
        class="h-11 cursor-pointer touch-manipulation rounded-md border border-hairline font-semibold text-teal"
        :disabled="q.name === 'Undo' && !typing.lastMine"
        @click="q.press()"
      >
        {{ q.name }}
      </button>
    </div>
    <Keypad
      :keep="typing.entry === null ? (typing.after ? 'No second reading' : 'Next') : 'Keep'"
      @key="typing.press"
      @keep="typing.keep"
    />
  </div>
</template>
