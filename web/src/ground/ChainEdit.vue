<script setup lang="ts">
/** The chain of surfaces: pressed in turn, moved by dragging or by the arrow keys, taken away. */
import { nextTick, ref } from 'vue'
import type { Schemas } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { show } from '@/shared/units'

const props = defineProps<{ surfaces: Schemas['SurfaceOut'][]; message: string | undefined }>()
const chain = defineModel<string[]>({ required: true })
const at = defineModel<number>('at', { required: true })
const list = ref<HTMLElement>()
const name = (key: string) => props.surfaces.find((s) => s.key === key)?.name ?? key
function add(key: string) {
  const longer = [...chain.value, key]
  chain.value = longer
  at.value = longer.length - 1
}
async function move(from: number, to: number) {
  if (to < 0 || to >= chain.value.length) return
  const next = [...chain.value]
  next.splice(to, 0, ...next.splice(from, 1))
  chain.value = next
  at.value = to
  await nextTick()
  list.value?.querySelectorAll<HTMLElement>('[data-stretch]')[to]?.focus()
}
function remove(i: number) {
  chain.value = chain.value.filter((_, k) => k !== i)
}
function keys(event: KeyboardEvent, i: number) {
  const act: Record<string, () => void> = {
    ArrowLeft: () => void move(i, i - 1),
    ArrowRight: () => void move(i, i + 1),
    Delete: () => remove(i),
    Backspace: () => remove(i),
  }
  if (!act[event.key]) return
  event.preventDefault()
  act[event.key]!()
}
const dragged = ref<number | null>(null)
function drop(i: number) {
  if (dragged.value !== null) void move(dragged.value, i)
  dragged.value = null
}
</script>

<template>
  <div>
    <span class="label">Then comes</span>
    <div class="flex flex-wrap gap-1.5">
      <button v-for="s in surfaces" :key="s.key" type="button" class="press chip min-h-11 px-3" @click="add(s.key)">
        {{ s.name
        }}<span v-if="s.speed_kmh !== null" class="ml-2 text-sm text-soft">{{
          show('speed', s.speed_kmh, 'down')
        }}</span>
      </button>
    </div>
    <RouterLink :to="{ name: 'surfaces' }" class="mt-1 inline-block py-1 text-sm">Shares, speeds and floors</RouterLink>
    <ol v-if="chain.length" ref="list" class="mt-3 flex flex-wrap items-center gap-1.5" aria-label="The chain">
      <li v-for="(key, i) in chain" :key="i" class="flex items-center gap-1.5" @dragover.prevent @drop="drop(i)">
        <span v-if="i" class="text-soft" aria-hidden="true">→</span>
        <button
          type="button"
          data-stretch
          draggable="true"
          class="press chip min-h-11 px-3"
          :aria-pressed="at === i"
          :aria-label="`${name(key)}, stretch ${i + 1} of ${chain.length}. Arrow keys move it, Delete takes it away`"
          @click="at = i"
          @keydown="keys($event, i)"
          @dragstart="dragged = i"
        >
          {{ name(key) }}
        </button>
        <button
          v-if="at === i"
          type="button"
          class="link min-h-11 px-1"
          :aria-label="`Take ${name(key)} away`"
          @click="remove(i)"
        >
          Take away
        </button>
      </li>
      <li class="text-soft">→ Highway</li>
    </ol>
    <Refusal :message="message" />
  </div>
</template>
