<script setup lang="ts">
/** What is looked for in a list: every word stands in what stays. */
import { computed } from 'vue'

/** `of`: so many are there in all, where few need no filter; `fits`: so many stay, told where the list is narrowed. */
const props = defineProps<{ label: string; of?: number | undefined; fits?: number | null | undefined }>()
const model = defineModel<string>({ required: true })
/** So few are looked through faster than they are filtered. */
const FEW = 12
const asked = computed(() => props.of === undefined || props.of > FEW || Boolean(model.value))
</script>

<template>
  <div v-if="asked" class="flex flex-wrap items-center gap-3">
    <label class="flex items-center gap-3">
      <span class="text-sm text-soft">Filter</span>
      <input v-model="model" class="input w-60" type="search" :aria-label="label" />
    </label>
    <slot />
    <span v-if="fits !== undefined && fits !== null" class="text-soft" role="status"
      >{{ fits.toLocaleString('en-US') }} {{ fits === 1 ? 'fits' : 'fit' }}</span
    >
  </div>
</template>
