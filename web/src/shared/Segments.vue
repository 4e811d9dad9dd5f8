<script setup lang="ts" generic="T extends string | number | boolean | null">
/** One of a few, all in sight. */
import Presses from './Presses.vue'

defineProps<{ label: string; choices: { key: T; name: string }[] }>()
const model = defineModel<T>({ required: true })
</script>

<template>
  <div role="group" :aria-label="label" class="min-w-0">
    <span class="label">{{ label }}</span>
    <div class="flex w-max max-w-full overflow-x-auto rounded-md border border-soft">
      <Presses v-model="model" :choices="choices" look="min-h-9.5 px-3" />
    </div>
  </div>
</template>
