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
}>()
const refusal = useRefusal(props)
const attrs = useAttrs()
// The class places the whole field; everything else is the input's.
const rest = computed(() => ({ ...attrs, class: undefined }))
const model = defineModel<string>({ required: true })
</script>

<template>
  <Field v-slot="{ id, described, invalid }" :class="attrs.class" :label="label" :hint="hint" :message="refusal">
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
