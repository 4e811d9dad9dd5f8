<script setup lang="ts">
/** Rounds on each day of a month, a bar a day. */
import { computed } from 'vue'

const props = defineProps<{ days: number[]; first: string }>()
const most = computed(() => Math.max(1, ...props.days))
const label = computed(() => {
  const busy = props.days.flatMap((n, i) => (n ? [`${i + 1}: ${n}`] : []))
  return `Rounds by the day of the month. ${busy.join(', ') || 'None'}`
})
</script>

<template>
  <div role="img" :aria-label="label">
    <div class="flex h-28 items-end gap-px border-b border-soft">
      <div v-for="(n, i) in days" :key="i" class="flex flex-1 flex-col items-center justify-end self-stretch">
        <span v-if="n" class="text-xs text-soft">{{ n }}</span>
        <span class="w-full bg-teal" :style="{ height: `${(n / most) * 78}%` }" />
      </div>
    </div>
    <div class="flex gap-px text-center text-xs text-soft" aria-hidden="true">
      <span v-for="(_, i) in days" :key="i" class="flex-1">{{ i % 5 === 0 ? i + 1 : '' }}</span>
    </div>
  </div>
</template>
