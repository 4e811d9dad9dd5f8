<script setup lang="ts" generic="T extends string | number | null">
/** One of a few, all in sight. */
defineProps<{ label: string; choices: { key: T; name: string }[] }>()
const model = defineModel<T>({ required: true })
</script>

<template>
  <div role="group" :aria-label="label" class="min-w-0">
    <span class="label">{{ label }}</span>
    <div class="flex w-max max-w-full overflow-x-auto rounded-md border border-soft">
      <button
        v-for="c in choices"
        :key="String(c.key)"
        type="button"
        class="min-h-9.5 cursor-pointer px-3 whitespace-nowrap"
        :class="model === c.key ? 'bg-tealwash font-bold text-teal' : ''"
        :aria-pressed="model === c.key"
        @click="model = c.key"
      >
        {{ c.name }}
      </button>
    </div>
  </div>
</template>
