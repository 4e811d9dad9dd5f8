<script setup lang="ts">
/** A page of entry, opened by somebody who may look and not enter. */
defineProps<{ what: string }>()
</script>

<template>
  <main id="stage" class="mx-auto max-w-xl px-5 py-16">
    <h1>You may look, not {{ what }}</h1>
    <p class="mt-2 text-soft">A manager of this workspace may, and may let you.</p>
    <RouterLink to="/" class="button button-next mt-6">Go to the Yard</RouterLink>
  </main>
</template>
