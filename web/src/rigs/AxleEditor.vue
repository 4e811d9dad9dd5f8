<script setup lang="ts">
/** The axles on the plan itself: drag them, or move them with the arrow keys; dual, add, remove. */
import { computed, nextTick, ref } from 'vue'
import RigDrawing from '@/shared/RigDrawing.vue'
import type { Drawn } from '@/shared/drawing'
import { show } from '@/shared/units'
import { useDrag } from '@/shared/useDrag'

export interface EditedAxle {
  number: number
  name: string
  position_m: number
  track_m: number
  wheels: 1 | 2 | 4
  lift: boolean
}
const props = defineProps<{
  axles: EditedAxle[]
  trailer: boolean
  pulled: boolean
  coupler: number | null
  hitch: number | null
  solo: boolean
}>()
const emit = defineEmits<{
  move: [index: number, position_m: number]
  dual: [index: number]
  add: [index: number]
  remove: [index: number]
}>()
const drawing = ref<InstanceType<typeof RigDrawing>>()
const handles = ref<SVGGElement[]>([])
const chosen = ref(0)
const vehicles = computed<Drawn[]>(() => [
  {
    id: 0,
    name: '',
    trailer: props.trailer,
    pulled: props.pulled,
    axles: props.axles,
    coupler_m: props.coupler,
    hitch_m: props.hitch,
  },
])
const LEAST_GAP = 0.6
/** An axle stays between its neighbors; the first is where the tape measure starts. */
function put(i: number, position: number) {
  if (i === 0) return
  const before = props.axles[i - 1]!.position_m + LEAST_GAP
  const after = props.axles[i + 1] ? props.axles[i + 1]!.position_m - LEAST_GAP : 30
  emit('move', i, Math.round(Math.min(after, Math.max(before, position)) * 100) / 100)
}
const { take, drag, drop } = useDrag<number>((e) => drawing.value!.meters(e))

function onKey(event: KeyboardEvent, i: number) {
  const step = event.shiftKey ? 0.5 : 0.05
  const now = props.axles[i]!.position_m
  const does: Record<string, () => void> = {
    ArrowLeft: () => put(i, now - step),
    ArrowRight: () => put(i, now + step),
    d: () => emit('dual', i),
    a: () => emit('add', i),
    Delete: () => emit('remove', i),
    Backspace: () => emit('remove', i),
  }
  const act = does[event.key]
  if (!act || event.ctrlKey || event.metaKey || event.altKey) return
  event.preventDefault()
  act()
  void nextTick(() => handles.value[Math.min(i, props.axles.length - 1)]?.focus())
}
const axle = computed(() => props.axles[Math.min(chosen.value, props.axles.length - 1)])
const at = computed(() => Math.min(chosen.value, props.axles.length - 1))
</script>

<template>
  <div>
    <RigDrawing ref="drawing" v-slot="{ px, py, height }" :vehicles="vehicles" label="Axles on the plan">
      <g
        v-for="(a, i) in axles"
        :key="i"
        :ref="(el) => (handles[i] = el as SVGGElement)"
        role="slider"
        tabindex="0"
        class="group cursor-ew-resize outline-none"
        :aria-label="`${a.name} on the plan`"
        :aria-valuenow="a.position_m"
        :aria-valuetext="`${show('length', a.position_m)}, ${a.wheels === 4 ? 'dual' : 'single'}`"
        aria-valuemin="0"
        aria-valuemax="30"
        @keydown="onKey($event, i)"
        @focus="chosen = i"
        @pointerdown="((chosen = i), take($event, i, (w, m) => put(w, m.x)))"
        @pointermove="drag"
        @pointerup="drop"
        @pointercancel="drop"
      >
        <rect :x="px(a.position_m) - 22" y="0" width="44" :height="height" fill="transparent" />
        <circle
          :cx="px(a.position_m)"
          :cy="py(0)"
          r="15"
          class="stroke-teal group-focus-visible:stroke-[4px]"
          :class="i === at ? 'fill-teal' : 'fill-paper'"
          stroke-width="2"
        />
        <text
          :x="px(a.position_m)"
          :y="py(0) + 5"
          text-anchor="middle"
          class="text-[14px] font-bold"
          :class="i === at ? 'fill-paper' : 'fill-teal'"
        >
          {{ a.number }}
        </text>
      </g>
    </RigDrawing>
    <div v-if="axle" class="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1 text-sm">
      <span class="font-semibold">{{ axle.name }}</span>
      <span v-if="at > 0" class="text-soft">{{ show('length', axle.position_m) }} behind the first</span>
      <button v-if="!solo" type="button" class="link" @click="emit('dual', at)">
        {{ axle.wheels === 4 ? 'Make it single' : 'Make it dual' }}
      </button>
      <button v-if="axles.length < 9" type="button" class="link" @click="emit('add', at)">Add an axle behind it</button>
      <button v-if="axles.length > 1" type="button" class="link" @click="emit('remove', at)">Remove it</button>
      <span class="text-soft max-sm:hidden">Drag, or ← → · D dual · A add · Delete</span>
    </div>
  </div>
</template>
