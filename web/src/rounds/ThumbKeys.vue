<script setup lang="ts">
/** The keys under the thumb: pinned at the bottom of a phone, they stand still whatever grows above them. */
import { computed } from 'vue'
import Keypad from '@/shared/Keypad.vue'
import type { Typing } from './useEntry'

/** What of a wheel is noted with one tap, and what stands noted of it. */
export interface Notes {
  heard: boolean
  capless: boolean
  letter: (code: string) => boolean
  write: () => void
  photograph: () => void
}
const props = defineProps<{ typing: Typing; large: boolean; notes: Notes | undefined }>()
/** What is noted with a thumb, above the keypad. */
const quick = computed(() => [
  { name: 'Leak', on: props.notes?.heard ?? false, press: () => props.notes?.letter('KeyL') },
  { name: 'Cap', on: props.notes?.capless ?? false, press: () => props.notes?.letter('KeyC') },
  { name: 'Skip', press: () => props.notes?.letter('KeyS') },
  { name: 'Note', press: () => props.notes?.write() },
  { name: 'Picture', press: () => props.notes?.photograph() },
  { name: 'Undo', press: () => void props.typing.undo() },
])
</script>

<template>
  <div
    class="bg-paper max-lg:fixed max-lg:inset-x-0 max-lg:bottom-0 max-lg:z-20 max-lg:border-t max-lg:border-hairline max-lg:p-2 max-lg:beside:left-1/2 max-lg:beside:border-l lg:mt-3"
    :class="{ 'lg:hidden': !large }"
  >
    <div class="mb-1.5 grid grid-cols-6 gap-1.5" role="group" aria-label="With one tap">
      <button
        v-for="q in quick"
        :key="q.name"
        type="button"
        class="h-11 cursor-pointer touch-manipulation rounded-md border font-semibold max-sm:text-sm"
        :class="q.on ? 'border-rust bg-rust text-ground' : 'border-hairline text-teal'"
        :aria-pressed="q.on"
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
