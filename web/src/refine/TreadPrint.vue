<script setup lang="ts">
/** A tread from above with a line of chalk across: on each rib it is there, faint or gone. Pressed, a rib goes on to the next. */
import type { Schemas } from '@/shared/api/client'

type Rib = Schemas['ChalkPassOut']['left'][number]
defineProps<{ label: string; small?: boolean; still?: boolean }>()
const marks = defineModel<Rib[]>({ required: true })
const NEXT: Record<Rib, Rib> = { left: 'faint', faint: 'gone', gone: 'left' }
const WORD: Record<Rib, string> = { left: 'left', faint: 'faint', gone: 'gone' }
const PLACE = ['left rib', 'centre', 'right rib']
const turn = (i: number) => (marks.value = marks.value.map((m, k) => (k === i ? NEXT[m] : m)))
</script>

<template>
  <div class="inline-grid grid-cols-3" role="group" :aria-label="label">
    <component
      :is="still ? 'span' : 'button'"
      v-for="(m, i) in marks"
      :key="i"
      :type="still ? undefined : 'button'"
      class="block text-center"
      :class="still ? '' : 'min-h-11 cursor-pointer touch-manipulation'"
      :aria-label="still ? undefined : `${label}, ${PLACE[i]}: ${WORD[m]}`"
      @click="still || turn(i)"
    >
      <svg :width="small ? 20 : 62" :height="small ? 28 : 92" viewBox="0 0 62 92" aria-hidden="true" class="block">
        <rect x="3" y="0" width="56" height="92" rx="6" class="fill-soft" />
        <path d="M8 12h46M8 32h46M8 60h46M8 80h46" class="stroke-ground" stroke-width="3" />
        <path
          v-if="m !== 'gone'"
          d="M4 46h54"
          class="stroke-paper"
          :stroke-width="m === 'left' ? 12 : 5"
          :stroke-dasharray="m === 'faint' ? '7 6' : undefined"
        />
      </svg>
      <span v-if="!small" class="block text-sm" :class="{ 'font-semibold': m !== 'left' }">{{ WORD[m] }}</span>
    </component>
  </div>
</template>
