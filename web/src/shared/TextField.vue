<script setup lang="ts">
import Field from './Field.vue'

defineOptions({ inheritAttrs: false })
defineProps<{
  label: string
  hint?: string
  message?: string | undefined
  type?: string
  suggest?: string[]
}>()
const model = defineModel<string>({ required: true })
</script>

<template>
  <Field v-slot="{ id, described, invalid }" :label="label" :hint="hint" :message="message">
    <input
      :id="id"
      v-model="model"
      v-bind="$attrs"
      class="input"
      :type="type ?? 'text'"
      :aria-describedby="described"
      :aria-invalid="invalid || undefined"
      :list="suggest ? `${id}-list` : undefined"
      autocomplete="off"
    />
    <datalist v-if="suggest" :id="`${id}-list`">
      <option v-for="s in suggest" :key="s" :value="s" />
    </datalist>
  </Field>
</template>
