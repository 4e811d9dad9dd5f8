<script setup lang="ts">
import { computed, useAttrs } from 'vue'
import Field from './Field.vue'
import { useRefusal } from './refusals'

defineOptions({ inheritAttrs: false })
const props = defineProps<{
  label: string
  /** As the API names it: what was refused of it is found by it. */
  name?: string
  hint?: string
  message?: string | undefined
  type?: string
  suggest?: string[]
  upper?: boolean
  required?: boolean
  /** So many lines high instead of one. */
  lines?: number
}>()
const refusal = useRefusal(props)
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
    :message="refusal"
    :required="required"
  >
    <component
      :is="lines ? 'textarea' : 'input'"
      :id="id"
      :value="model"
      v-bind="rest"
      class="input"
      :class="{ uppercase: upper }"
      :type="lines ? undefined : (type ?? 'text')"
      :rows="lines"
      :aria-required="required || undefined"
      :aria-describedby="described"
      :aria-invalid="invalid || undefined"
      :list="suggest ? `${id}-list` : undefined"
      autocomplete="off"
      @input="model = ($event.target as HTMLInputElement).value"
    />
    <datalist v-if="suggest" :id="`${id}-list`">
      <option v-for="s in suggest" :key="s" :value="s" />
    </datalist>
  </Field>
</template>
