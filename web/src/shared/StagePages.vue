<script setup lang="ts">
/** The pages of a stage, side by side over it. */
defineProps<{ label: string; rig: number; pages: { name: string; words: string }[] }>()
</script>

<template>
  <nav :aria-label="label" class="flex flex-wrap gap-1">
    <RouterLink
      v-for="p in pages"
      :key="p.name"
      :to="{ name: p.name, params: { id: rig } }"
      class="rounded-md px-3 py-1.5 hover:no-underline"
      active-class=""
      exact-active-class="bg-tealwash font-bold"
      >{{ p.words }}</RouterLink
    >
  </nav>
</template>
