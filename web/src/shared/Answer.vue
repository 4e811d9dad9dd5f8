<script setup lang="ts">
/** An answer in its word and shape, colored, never by color alone. */
import { computed } from 'vue'
import type { Schemas } from './api/client'
import Shape from './Shape.vue'
import { say } from './units'
import { COLOR } from './words'

const props = withDefaults(
  defineProps<{ answer: Schemas['AnswerOut']; target?: number | null; size?: 'small' | 'large' }>(),
  { target: null, size: 'small' },
)
const depth = computed(() =>
  props.target && props.answer.change_kpa ? Math.abs(props.answer.change_kpa) / props.target / 0.15 : 0.5,
)
</script>

<template>
  <span
    class="inline-flex items-center align-middle"
    :class="[COLOR[answer.word], size === 'large' ? 'gap-3 text-3xl font-bold' : 'gap-2 font-medium']"
  >
    <Shape :word="answer.word" :depth="depth" :estimate="answer.estimate" :size="size === 'large' ? 34 : 16" />
    <span>{{ say(answer.words) }}</span>
  </span>
</template>
