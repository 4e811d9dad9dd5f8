<script setup lang="ts">
/** What is asked at one place of a rig. */
import EntryFields from '@/shared/EntryFields.vue'
import Opening from '@/shared/Opening.vue'
import { refusalsUnder, useRefusals } from '@/shared/refusals'
import type { Part } from './places'

const props = defineProps<{ part: Part }>()
const emit = defineEmits<{ typed: [name: string] }>()
if (props.part.under) refusalsUnder(() => props.part.under)
const whole = useRefusals()
const no = (name: string) => whole(props.part.under ? `${props.part.under}.${name}` : name)
const values = props.part.value as Record<string, unknown>
const open = props.part.seldom?.some((e) => Boolean(values[e.name]) || Boolean(no(e.name)))
</script>

<template>
  <section :aria-label="part.heading || undefined">
    <h3 v-if="part.heading" class="mt-5 border-t border-hairline pt-3 font-semibold">{{ part.heading }}</h3>
    <div class="mt-3 grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
      <EntryFields :model-value="part.value" :entries="part.entries" @typed="emit('typed', $event)" />
    </div>
    <Opening
      v-if="part.seldom"
      class="mt-3 text-sm"
      label="More: load index, wheel and rim, lamp, kind of axle"
      :open="open ?? false"
    >
      <div class="grid gap-4 text-base sm:grid-cols-2 lg:grid-cols-3">
        <EntryFields :model-value="part.value" :entries="part.seldom" />
      </div>
    </Opening>
  </section>
</template>
