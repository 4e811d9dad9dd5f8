<script setup lang="ts">
/**
 * A quantity in the person's units; any other unit may be typed with it ("6.2 bar").
 * A canonical number that is not touched goes back as it came, so looking at a form changes nothing.
 */
import { computed, ref, useAttrs, watch } from 'vue'
import Field from './Field.vue'
import { useRefusal } from './refusals'
import { inField, spelled, system, unitOf, type Entry, type Kind } from './units'

defineOptions({ inheritAttrs: false })
const props = defineProps<{
  label: string
  /** As the API names it: what was refused of it is found by it. */
  name?: string
  kind: Kind
  hint?: string
  message?: string | undefined
  large?: boolean
  whole?: boolean
  bare?: boolean
  required?: boolean
}>()
const model = defineModel<Entry>({ required: true })

const refusal = useRefusal(props)
const attrs = useAttrs()
const rest = computed(() => ({ ...attrs, class: undefined }))
const input = ref<HTMLInputElement>()
const text = ref(inField(props.kind, model.value, props.whole))
const unit = computed(() => unitOf(props.kind))
let own: Entry = model.value

watch([model, system], ([now]) => {
  if (now !== own || document.activeElement !== input.value) text.value = inField(props.kind, now, props.whole)
  own = now
})

function typed(event: Event) {
  text.value = (event.target as HTMLInputElement).value
  own = spelled(props.kind, text.value)
  model.value = own
}

defineExpose({ focus: () => input.value?.focus(), select: () => input.value?.select() })
</script>

<template>
  <Field
    v-slot="{ id, described, invalid }"
    :class="attrs.class"
    :label="label"
    :hint="hint"
    :message="refusal"
    :bare="bare ?? false"
    :required="required ?? false"
  >
    <span class="relative block">
      <input
        :id="id"
        ref="input"
        inputmode="decimal"
        autocomplete="off"
        v-bind="rest"
        class="input figure pr-12"
        :class="{ 'h-24 border-2 border-teal pr-16 text-6xl font-bold': large }"
        :value="text"
        :aria-describedby="described"
        :aria-required="required || undefined"
        :aria-invalid="invalid || undefined"
        @input="typed"
      />
      <span
        class="pointer-events-none absolute right-3 text-soft"
        :class="large ? 'bottom-4 text-lg' : 'top-1/2 -translate-y-1/2 text-sm'"
        >{{ unit }}</span
      >
    </span>
  </Field>
</template>
