<script setup lang="ts" generic="T extends string | number | null">
/** One of a list. Headless UI gives the keyboard and the roles, the look is ours. */
import { Listbox, ListboxButton, ListboxLabel, ListboxOption, ListboxOptions } from '@headlessui/vue'
import { computed } from 'vue'
import Refusal from './Refusal.vue'
import { useRefusal } from './refusals'

const props = defineProps<{
  label: string
  /** As the API names it: what was refused of it is found by it. */
  name?: string
  choices: { key: T; name: string; note?: string }[]
  message?: string | undefined
  empty?: string
  /** The label is only read aloud: what it is of stands beside it. */
  bare?: boolean
}>()
const model = defineModel<T>({ required: true })
const refusal = useRefusal(props)
const chosen = computed(() => props.choices.find((c) => c.key === model.value))
</script>

<template>
  <Listbox v-model="model" as="div" class="relative min-w-0">
    <ListboxLabel class="label" :class="{ 'sr-only': bare }">{{ label }}</ListboxLabel>
    <ListboxButton
      class="input flex items-center justify-between gap-2 text-left"
      :aria-invalid="refusal ? true : undefined"
    >
      <span class="truncate" :class="{ 'text-soft': !chosen }">{{ chosen?.name ?? empty ?? 'Choose' }}</span>
      <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true" class="shrink-0">
        <path d="M1 4h10L6 9z" fill="currentColor" />
      </svg>
    </ListboxButton>
    <ListboxOptions
      class="absolute z-20 mt-1 max-h-72 w-max max-w-96 min-w-full overflow-auto rounded-md border border-soft bg-paper py-1 outline-none"
    >
      <ListboxOption
        v-for="c in choices"
        v-slot="{ active, selected }"
        :key="String(c.key)"
        :value="c.key"
        as="template"
      >
        <li class="cursor-pointer px-3 py-2" :class="{ 'bg-tealwash': active, 'font-semibold': selected }">
          {{ c.name }}
          <span v-if="c.note" class="block text-sm font-normal text-soft">{{ c.note }}</span>
        </li>
      </ListboxOption>
    </ListboxOptions>
    <Refusal :message="refusal" />
  </Listbox>
</template>
