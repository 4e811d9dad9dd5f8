<script setup lang="ts">
/** What a page shows while it has nothing: that it is fetched, that it could not be, or that there is no such page. */
import { missing, refusedOf } from '@/shared/api/client'
import Nowhere from './Nowhere.vue'

defineProps<{ what: string; error: Error | null }>()
defineEmits<{ again: [] }>()
</script>

<template>
  <Nowhere v-if="missing(error)" />
  <main v-else id="stage" :aria-busy="error ? undefined : true" class="px-5 py-10">
    <h1 class="sr-only">{{ what }}</h1>
    <p v-if="error" role="alert">
      {{ refusedOf(error).message }}
      <button type="button" class="link" @click="$emit('again')">Try again</button>
    </p>
    <p v-else class="text-soft">Fetching {{ what.toLowerCase() }} …</p>
  </main>
</template>
