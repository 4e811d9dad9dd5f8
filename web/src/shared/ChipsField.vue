<script setup lang="ts" generic="T extends string | number">
/** One of a list, all of it in sight: one press, or the arrow keys. */
import { RadioGroup, RadioGroupLabel, RadioGroupOption } from '@headlessui/vue'
import Refusal from './Refusal.vue'

defineProps<{
  label: string
  /** As the API names it: what was refused of it is found by it. */
  name?: string
  choices: { key: T; name: string }[]
  required?: boolean
}>()
const model = defineModel<T>({ required: true })
</script>

<template>
  <RadioGroup v-model="model" as="div" class="min-w-0" :aria-required="required || undefined">
    <div :class="{ 'flex items-baseline gap-1.5': required }">
      <RadioGroupLabel as="span" class="label">{{ label }}</RadioGroupLabel>
      <span v-if="required" class="text-[0.87rem] text-soft" aria-hidden="true">required</span>
    </div>
    <div class="flex flex-wrap gap-1.5">
      <RadioGroupOption v-for="c in choices" :key="String(c.key)" v-slot="{ checked }" :value="c.key" as="template">
        <span class="press chip flex min-h-11 items-center px-3" :class="{ chosen: checked }">{{ c.name }}</span>
      </RadioGroupOption>
    </div>
    <Refusal :name="name" />
  </RadioGroup>
</template>
