<script setup lang="ts">
/** To the pages before and after the one of a list that is here. */
import { computed, useTemplateRef } from 'vue'
import type { Turning } from './usePages'

const props = withDefaults(
  defineProps<{
    list: Turning
    /** Of a list whose lines are counted: how many there are, which one is the first here, and how many are. */
    of?: { found: number; start: number; shown: number }
    back?: string
    on?: string
  }>(),
  { of: undefined, back: 'Before', on: 'Further' },
)
const spoken = (n: number) => n.toLocaleString('en-US')
const where = computed(
  () =>
    props.of &&
    `${spoken(props.of.start + 1)} to ${spoken(props.of.start + props.of.shown)} of ${spoken(props.of.found)}`,
)
const nav = useTemplateRef<HTMLElement>('nav')
function turn(to: () => unknown) {
  to()
  // The list begins anew above what was pressed.
  nav.value?.closest('section, main')?.scrollIntoView()
}
</script>

<template>
  <nav
    v-if="!list.first.value || list.next.value !== null"
    class="flex flex-wrap items-center gap-4"
    aria-label="Pages"
  >
    <button type="button" class="button" :disabled="list.first.value || list.busy.value" @click="turn(list.before)">
      {{ back }}
    </button>
    <button
      type="button"
      class="button"
      :disabled="list.next.value === null || list.busy.value"
      @click="turn(list.further)"
    >
      {{ on }}
    </button>
    <span v-if="where" class="text-soft" role="status">{{ where }}</span>
  </nav>
</template>
