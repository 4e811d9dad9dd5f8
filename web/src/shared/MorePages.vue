<script setup lang="ts">
/** More of a list that comes page by page. */
import type { usePages } from './usePages'

defineProps<{ list: ReturnType<typeof usePages> }>()
</script>

<template>
  <button v-if="list.left.value" type="button" class="button" :disabled="list.fetching.value" @click="list.fetchMore()">
    {{ list.more.value }} more of {{ list.left.value.toLocaleString('en-US') }}
  </button>
</template>
