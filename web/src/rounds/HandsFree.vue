<script setup lang="ts">
/** The wheel and its answer, readable at arm's length. */
import Answer from '@/shared/Answer.vue'
import type { Schemas } from '@/shared/api/client'

defineProps<{ name: string; answer: Schemas['AnswerOut'] | null; target: number | null }>()
</script>

<template>
  <div class="mt-2 border-y border-hairline py-3" aria-hidden="true">
    <p class="text-4xl leading-tight font-bold sm:text-6xl">{{ name }}</p>
    <p class="mt-2 min-h-14 text-3xl sm:text-5xl">
      <Answer v-if="answer" :answer="answer" :target="target" size="large" class="text-[inherit]!" />
      <span v-else class="text-soft">Read it</span>
    </p>
  </div>
</template>
