<script setup lang="ts">
/** The entries of a form, one beside the other in the grid that they stand in. */
import { computed } from 'vue'
import type { EntrySpec } from './entries'

const form = defineModel<object>({ required: true })
const values = computed(() => form.value as Record<string, unknown>)
defineProps<{ entries: EntrySpec[] }>()
/** Somebody typed or chose: the value is in the form by then. */
const emit = defineEmits<{ typed: [name: string] }>()
</script>

<template>
  <template v-for="e in entries" :key="e.name">
    <component
      :is="e.is"
      v-if="e.shown"
      v-model="values[e.name]"
      v-bind="e.bound"
      @update:model-value="emit('typed', e.name)"
    />
  </template>
</template>
