<script setup lang="ts">
/** A label over an entry, with a hint or a refusal under it. The entry is the slot's. */
import { useId } from 'vue'
import Refusal from './Refusal.vue'

defineProps<{
  label: string
  hint?: string | undefined
  message?: string | undefined
  /** What stands beside it says what it is: the label is only spoken. */
  bare?: boolean
  /** It cannot be left out. */
  required?: boolean
}>()
const id = useId()
</script>

<template>
  <div class="min-w-0">
    <div :class="{ 'flex items-baseline gap-1.5': required }">
      <label :for="id" class="label" :class="{ 'sr-only': bare }">{{ label }}</label>
      <span v-if="required" class="text-[0.87rem] text-soft" aria-hidden="true">required</span>
    </div>
    <slot :id="id" :described="message ? `${id}-no` : hint ? `${id}-hint` : undefined" :invalid="Boolean(message)" />
    <p v-if="hint && !message" :id="`${id}-hint`" class="mt-1 text-sm text-soft">{{ hint }}</p>
    <Refusal :id="`${id}-no`" :message="message" />
  </div>
</template>
