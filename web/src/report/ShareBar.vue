<script setup lang="ts">
/** Parts of a whole on one bar, each with its count and its name. */
import { computed } from 'vue'

const props = defineProps<{ parts: { name: string; count: number; look: string }[]; none: string }>()
const whole = computed(() => props.parts.reduce((sum, p) => sum + p.count, 0))
</script>

<template>
  <p v-if="!whole" class="text-soft">{{ none }}</p>
  <template v-else>
    <div class="mt-1 flex h-6 gap-px" aria-hidden="true">
      <span
        v-for="p in parts.filter((p) => p.count)"
        :key="p.name"
        :class="p.look"
        :style="{ width: `${(p.count / whole) * 100}%`, minWidth: '3px' }"
      />
    </div>
    <ul class="mt-1 flex flex-wrap gap-x-5">
      <li v-for="p in parts" :key="p.name" class="flex items-center gap-1.5">
        <span class="size-3" :class="p.look" aria-hidden="true" /><b>{{ p.count }}</b> {{ p.name }}
      </li>
    </ul>
  </template>
</template>
