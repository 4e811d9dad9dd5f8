<script setup lang="ts" generic="T extends string | number | boolean | null">
/** Buttons of which one is pressed. */
defineProps<{ choices: { key: T; name: string }[]; look?: string }>()
const model = defineModel<T>({ required: true })
</script>

<template>
  <button
    v-for="c in choices"
    :key="String(c.key)"
    type="button"
    class="press"
    :class="look"
    :aria-pressed="model === c.key"
    @click="model = c.key"
  >
    {{ c.name }}
  </button>
</template>
