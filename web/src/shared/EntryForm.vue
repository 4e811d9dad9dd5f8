<script setup lang="ts">
/** A form: what was refused of it stands beside each entry, what is typed is checked by the server alone. */
import { provideRefusals } from './refusals'

const props = defineProps<{
  refused?: Record<string, string> | ((name: string) => string | undefined) | undefined
}>()
const emit = defineEmits<{ submit: [] }>()
provideRefusals((name) => (typeof props.refused === 'function' ? props.refused(name) : props.refused?.[name]))
</script>

<template>
  <form novalidate @submit.prevent="emit('submit')"><slot /></form>
</template>
