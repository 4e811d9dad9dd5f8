<script setup lang="ts">
/** Yes or no. */
import Refusal from './Refusal.vue'

defineProps<{ label: string; name?: string }>()
const model = defineModel<boolean>({ required: true })
</script>

<template>
  <div>
    <label class="flex min-h-10 items-center gap-2 sm:mt-6">
      <input v-model="model" type="checkbox" class="size-5 accent-teal" /> {{ label }}
    </label>
    <Refusal :name="name" />
  </div>
</template>
