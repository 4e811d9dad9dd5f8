<script setup lang="ts">
/** The one button that leads on: to the next stage of the work line that waits for something. */
import { computed } from 'vue'
import { say } from '@/shared/units'
import { useFrame } from './frame'

const props = defineProps<{
  /** The stage that one stands in. */
  after: string
  /** It is not the one thing to do here yet. */
  quiet?: boolean
}>()
const { id, sheet } = useFrame()
const next = computed(() => {
  const stages = sheet.value.stages
  const at = stages.findIndex((s) => s.key === props.after)
  return stages.slice(at + 1).find((s) => s.state === 'todo' || s.state === 'attention')
})
</script>

<template>
  <RouterLink v-if="next" :to="{ name: next.key, params: { id } }" class="button" :class="{ 'button-next': !quiet }"
    >Then {{ next.name.toLowerCase() }}: {{ say(next.words) }}</RouterLink
  >
</template>
