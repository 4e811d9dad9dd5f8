<script setup lang="ts">
/** To the pages before and after the one of a list that is here. */
import { computed, useTemplateRef } from 'vue'
import type { Turning } from './usePages'

const props = withDefaults(
  defineProps<{
    list: Turning
    back?: string
    on?: string
  }>(),
  { back: 'Before', on: 'Further' },
)
const spoken = (n: number) => n.toLocaleString('en-US')
const where = computed(() => {
  const at = props.list.where?.value
  return at && `${spoken(at.from + 1)} to ${spoken(at.from + at.shown)} of ${spoken(at.of)}`
})
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
    ref="nav"
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
