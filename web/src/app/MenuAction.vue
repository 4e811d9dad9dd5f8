<script setup lang="ts">
/** Something to do, in a menu. */
import { MenuItem } from '@headlessui/vue'

const emit = defineEmits<{ click: [] }>()
</script>

<template>
  <MenuItem v-slot="{ active }">
    <button
      type="button"
      class="block w-full px-4 py-2 text-left"
      :class="{ 'bg-tealwash': active }"
      @click="emit('click')"
    >
      <slot />
    </button>
  </MenuItem>
</template>
