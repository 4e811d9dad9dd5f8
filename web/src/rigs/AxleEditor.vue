<script setup lang="ts">
/**
 * The plan of a rig that is being described: places to pick that are read or open, axles to drag or to move with the arrow
 * keys; dual, add, remove.
 */
import { computed, nextTick, ref } from 'vue'
import RigDrawing from '@/shared/RigDrawing.vue'
import type { Drawn, DrawnAxle } from '@/shared/drawing'
import { show } from '@/shared/units'
import { useDrag } from '@/shared/useDrag'
import type { Place } from './places'

type EditedAxle = DrawnAxle & { name: string }
const props = defineProps<{
  axles: EditedAxle[]
  places: Place[]
  /** The place in hand. */
  at: string
  trailer: boolean
  pulled: boolean
  coupler: number | null
  hitch: number | null
  solo: boolean
}>()
const emit = defineEmits<{
  pick: [place: string]
  move: [index: number, position_m: number]
  dual: [index: number]
  add: [index: number]
  remove: [index: number]
}>()
const drawing = ref<InstanceType<typeof RigDrawing>>()
const handles = ref<SVGGElement[]>([])
const vehicles = computed<Drawn[]>(() => [
  {
    id: 0,
    name: '',
    trailer: props.trailer,
    pulled: props.pulled,
    axles: props.axles.map((a, i) => ({ ...a, open: !placeOf(`axles.${i}`)?.read })),
    coupler_m: props.coupler,
    hitch_m: props.hitch,
  },
])
const placeOf = (key: string) => props.places.find((p) => p.key === key)
const LEAST_GAP = 0.6
/** An axle stays between its neighbors; the first is where the tape measure starts. */
function put(i: number, position: number) {
  if (i === 0) return
  const before = props.axles[i - 1]!.drawn.position_m + LEAST_GAP
  const after = props.axles[i + 1] ? props.axles[i + 1]!.drawn.position_m - LEAST_GAP : 30
  emit('move', i, Math.round(Math.min(after, Math.max(before, position)) * 100) / 100)
}
const { take, drag, drop } = useDrag<number>((e) => drawing.value!.meters(e))

function onKey(event: KeyboardEvent, i: number) {
  const step = event.shiftKey ? 0.5 : 0.05
  const now = props.axles[i]!.drawn.position_m
  const does: Record<string, () => void> = {
    ArrowLeft: () => put(i, now - step),
    ArrowRight: () => put(i, now + step),
    Enter: () => emit('pick', `axles.${i}`),
    ' ': () => emit('pick', `axles.${i}`),
    d: () => emit('dual', i),
    a: () => emit('add', i),
    Delete: () => emit('remove', i),
    Backspace: () => emit('remove', i),
  }
  const act = does[event.key]
  if (!act || event.ctrlKey || event.metaKey || event.altKey) return
  event.preventDefault()
  act()
  if (event.key !== 'Enter' && event.key !== ' ')
    void nextTick(() => handles.value[Math.min(i, props.axles.length - 1)]?.focus())
}
/** A press picks, unless it dragged. */
const PRESS_PX = 4
const start = ref(0)
function hold(event: PointerEvent, i: number) {
  start.value = event.clientX
  take(event, i, (which, to) => put(which, to.x))
}
const dragged = (event: PointerEvent) => Math.abs(event.clientX - start.value) >= PRESS_PX
function pull(event: PointerEvent) {
  if (dragged(event)) drag(event)
}
function release(event: PointerEvent, i: number) {
  drop()
  if (!dragged(event)) emit('pick', `axles.${i}`)
}
/** Boxes on the plan for what is read elsewhere than at a wheel. */
const boxes = computed(() => {
  const last = props.axles.at(-1)!.drawn.position_m
  const middle =
    props.axles.length > 1 ? (props.axles[0]!.drawn.position_m + props.axles[1]!.drawn.position_m) / 2 : 0.75
  return [
    { key: 'label', at: middle, name: 'label' },
    { key: 'spare', at: last + 0.95, name: 'spare' },
  ].flatMap((b) => {
    const place = placeOf(b.key)
    return place ? [{ ...b, place }] : []
  })
})
/** On a narrow drawing boxes are smaller, and the spare's keeps off the axle's handle. */
const wide = (scale: number) => (scale < 60 ? 42 : 52)
const aside = (b: { key: string }, scale: number) => (b.key === 'spare' ? Math.max(0, 40 - 0.95 * scale) : 0)
</script>

<template>
  <div>
    <RigDrawing
      ref="drawing"
      v-slot="{ px, py, height, scale }"
      :vehicles="vehicles"
      label="Plan of the rig as described"
    >
      <g
        v-for="b in boxes"
        :key="b.key"
        role="button"
        tabindex="0"
        class="group cursor-pointer outline-none"
        :aria-label="`${b.place.name} on the plan, ${b.place.read ? 'read' : 'not read'}`"
        @click="emit('pick', b.key)"
        @keydown.enter.prevent="emit('pick', b.key)"
      >
        <rect
          :x="px(b.at) + aside(b, scale) - wide(scale) / 2"
          :y="py(0) - 17"
          :width="wide(scale)"
          height="34"
          rx="3"
          class="stroke-teal group-focus-visible:stroke-[4px]"
          :class="at === b.key ? 'fill-teal' : 'fill-paper'"
          stroke-width="1.5"
          :stroke-dasharray="b.place.read ? undefined : '4 3'"
        />
        <text
          :x="px(b.at) + aside(b, scale)"
          :y="py(0) + 5"
          text-anchor="middle"
          class="text-[13px] font-semibold"
          :class="at === b.key ? 'fill-paper' : 'fill-teal'"
        >
          {{ b.name }}
        </text>
      </g>
      <g
        v-for="(a, i) in axles"
        :key="i"
        :ref="(el) => (handles[i] = el as SVGGElement)"
        role="slider"
        tabindex="0"
        class="group cursor-ew-resize outline-none"
        :aria-label="`${a.name} on the plan`"
        :aria-valuenow="a.drawn.position_m"
        :aria-valuetext="`${show('length', a.drawn.position_m)}, ${a.wheels === 4 ? 'dual' : 'single'}`"
        aria-valuemin="0"
        aria-valuemax="30"
        @keydown="onKey($event, i)"
        @pointerdown="hold($event, i)"
        @pointermove="pull"
        @pointerup="release($event, i)"
        @pointercancel="drop"
      >
        <rect :x="px(a.drawn.position_m) - 24" y="0" width="48" :height="height" fill="transparent" />
        <circle
          :cx="px(a.drawn.position_m)"
          :cy="py(0)"
          r="15"
          class="stroke-teal group-focus-visible:stroke-[4px]"
          :class="at === `axles.${i}` ? 'fill-teal' : 'fill-paper'"
          stroke-width="2"
        />
        <text
          :x="px(a.drawn.position_m)"
          :y="py(0) + 5"
          text-anchor="middle"
          class="text-[14px] font-bold"
          :class="at === `axles.${i}` ? 'fill-paper' : 'fill-teal'"
        >
          {{ a.number }}
        </text>
      </g>
    </RigDrawing>
    <p class="text-sm text-soft max-sm:hidden">
      Press a place to read it. Axles: drag, or ← → · <template v-if="!solo">D dual · </template>A add · Delete
    </p>
  </div>
</template>
