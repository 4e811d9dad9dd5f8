<script setup lang="ts">
import { computed, useAttrs } from 'vue'
import Field from './Field.vue'

defineOptions({ inheritAttrs: false })
defineProps<{
  label: string
  hint?: string
  message?: string | undefined
  type?: string
  suggest?: string[]
  upper?: boolean
}>()
const attrs = useAttrs()
// The class places the whole field; everything else is the input's.
const rest = computed(() => ({ ...attrs, class: undefined }))
const model = defineModel<string>({ required: true })
</script>

<template>
  <Field
    v-slot="{ id, described, invalid }"
    :class="attrs.class"
    :label="label"
    :hint="hint"
    :message="message"
  >
    <input
      :id="id"
      v-model="model"
      v-bind="rest"
      class="input"
      :class="{ uppercase: upper }"
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
