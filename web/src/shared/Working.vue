<script setup lang="ts">
/** The lines behind a number, in words and figures. */
import type { Schemas } from './api/client'
import { say, show } from './units'

defineProps<{ lines: Schemas['Line'][]; title?: string }>()

function result(of: Schemas['Line']['result']): string {
  if (!of) return ''
  return 'text' in of ? say(of) : show(of.kind, of.value, of.toward)
}
</script>

<template>
  <section v-if="lines.length">
    <h3 v-if="title" class="mb-1 font-semibold">{{ title }}</h3>
    <dl>
      <div
        v-for="(line, i) in lines"
        :key="i"
        class="flex items-baseline justify-between gap-4 border-t border-hairline py-1.5"
      >
        <dt class="text-soft">{{ say(line.what) }}</dt>
        <dd class="figure shrink-0 whitespace-nowrap">{{ result(line.result) }}</dd>
      </div>
    </dl>
  </section>
</template>
