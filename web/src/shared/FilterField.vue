<script setup lang="ts">
/** What is looked for in a list: every word stands in what stays. */
import { computed } from 'vue'

/** `list`: how many there are in all, where few need no filter, and how many stay, told where it is narrowed. */
const props = defineProps<{
  label: string
  list?: { total: number; found: number } | null | undefined
  narrowed?: boolean
}>()
const model = defineModel<string>({ required: true })
/** So few are looked through faster than they are filtered. */
const FEW = 12
const asked = computed(() => !props.list || props.list.total > FEW || Boolean(model.value))
</script>

<template>
  <div v-if="asked" class="flex flex-wrap items-end gap-3">
    <label class="flex items-center gap-3">
      <span class="text-sm text-soft">Filter</span>
      <input v-model="model" class="input w-60" type="search" :aria-label="label" />
    </label>
    <slot />
    <span v-if="list && narrowed" class="text-soft" role="status"
      >{{ list.found.toLocaleString('en-US') }} {{ list.found === 1 ? 'fits' : 'fit' }}</span
    >
  </div>
</template>
