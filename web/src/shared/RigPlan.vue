<script setup lang="ts">
/**
 * The rig from above, nose up, from its own spacings. Every wheel is a cell; click or arrow keys pick
 * one. On a narrow screen it becomes a strip of wheels in walking order.
 */
import { computed, ref, watch } from 'vue'
import { show } from './units'
import type { WheelState } from './scale'
import WheelCell from './WheelCell.vue'
import { COLOR } from './words'

export interface PlanAxle {
  number: number
  name: string
  position_m: number
  wheels: number
}
export interface PlanWheel {
  code: string
  name: string
  axle: number | null
  side: 'L' | 'R' | 'C' | null
  inner: boolean
}
const props = defineProps<{
  axles: PlanAxle[]
  wheels: PlanWheel[]
  trailer: boolean
  states: Record<string, WheelState>
  selected?: string | null
  label: string
}>()
const emit = defineEmits<{ pick: [code: string] }>()

const WIDTH = 316
const CELL = { w: 60, h: 76 }
const ROW = CELL.h + 26
const DUAL_STEP = 57
const EMPTY: WheelState = {
  floor: null,
  target: null,
  ceiling: null,
  level: null,
  word: 'not_checked',
  words: '',
}

/** Axles at their own spacing, but never so close that cells touch. */
const rows = computed(() => {
  const length = (props.axles.at(-1)?.position_m ?? 0) - (props.axles[0]?.position_m ?? 0)
  const perMetre = length > 0 ? Math.min(46, 300 / length) : 0
  let y = props.trailer ? 96 : 62
  return props.axles.map((axle, i) => {
    if (i) {
      const gap = (axle.position_m - props.axles[i - 1]!.position_m) * perMetre
      y += Math.max(ROW + 8, gap)
    }
    return { axle, y }
  })
})
const span = computed(() => (props.axles.at(-1)?.position_m ?? 0) - (props.axles[0]?.position_m ?? 0))
const solo = computed(() => props.axles.every((a) => a.wheels === 1))
const bodyEnd = computed(() => (rows.value.at(-1)?.y ?? 0) + CELL.h + 22)
const spares = computed(() => props.wheels.filter((w) => w.axle === null))
const height = computed(() => bodyEnd.value + (spares.value.length ? ROW + 22 : 10))
const dual = computed(() => props.axles.some((a) => a.wheels === 4))
const half = computed(() => (solo.value ? 22 : dual.value ? 42 : 56))

function center(wheel: PlanWheel): number {
  if (wheel.side === null) {
    const i = spares.value.indexOf(wheel)
    return WIDTH / 2 + (i - (spares.value.length - 1) / 2) * (CELL.w + 10)
  }
  if (wheel.side === 'C') return WIDTH / 2
  const axle = props.axles.find((a) => a.number === wheel.axle)
  const outer = dual.value ? 128 : 92
  const off = axle?.wheels === 4 ? (wheel.inner ? outer - DUAL_STEP : outer) : dual.value ? 100 : outer
  return WIDTH / 2 + (wheel.side === 'L' ? -off : off)
}
const places = computed(() =>
  props.wheels.map((wheel) => {
    const row = rows.value.find((r) => r.axle.number === wheel.axle)
    return {
      wheel,
      x: center(wheel),
      y: row ? row.y : bodyEnd.value + 18,
      state: props.states[wheel.code] ?? EMPTY,
    }
  }),
)

const buttons = ref<Record<string, HTMLElement>>({})
const focused = ref(props.selected ?? props.wheels[0]?.code ?? '')
watch(
  () => props.selected,
  (now) => now && (focused.value = now),
)

/** The nearest wheel in the direction of the key, as the eye expects. */
function move(event: KeyboardEvent) {
  const direction = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
  if (!direction) return
  event.preventDefault()
  const [dx, dy] = direction as [number, number]
  const here = places.value.find((p) => p.wheel.code === focused.value)
  if (!here) return
  const ahead = places.value
    .map((p) => {
      const along = (p.x - here.x) * dx + (p.y - here.y) * dy
      const across = Math.abs((p.x - here.x) * dy) + Math.abs((p.y - here.y) * dx)
      return { p, along, cost: along + across * 2.5 }
    })
    .filter((c) => c.along > 4)
    .sort((a, b) => a.cost - b.cost)
  const next = ahead[0]?.p
  if (!next) return
  focused.value = next.wheel.code
  buttons.value[next.wheel.code]?.focus()
  emit('pick', next.wheel.code)
}
</script>

<template>
  <div role="group" :aria-label="label" @keydown="move">
    <div class="relative mx-auto hidden lg:block" :style="{ width: `${WIDTH}px`, height: `${height}px` }">
      <svg
        :width="WIDTH"
        :height="height"
        class="absolute inset-0 text-hairline"
        aria-hidden="true"
        fill="none"
        stroke="currentColor"
      >
        <g stroke-width="2">
          <path
            v-if="trailer"
            :d="`M${WIDTH / 2} 6L${WIDTH / 2 - half} 60V${bodyEnd}H${WIDTH / 2 + half}V60z`"
          />
          <path v-else-if="solo" :d="`M${WIDTH / 2} 14v${bodyEnd - 14}M${WIDTH / 2 - 46} 34q46 -22 92 0`" />
          <path
            v-else
            :d="`M${WIDTH / 2 - half} ${bodyEnd}V24q${half} -26 ${2 * half} 0V${bodyEnd}zM${WIDTH / 2 - half + 7} 50q${half - 7} -18 ${2 * half - 14} 0`"
          />
          <circle v-if="trailer" :cx="WIDTH / 2" cy="6" r="5" />
        </g>
        <g v-if="rows.length > 1 && span" stroke-width="1.5">
          <path
            :d="`M${WIDTH / 2} ${rows[0]!.y + CELL.h / 2 + 8}V${rows.at(-1)!.y + CELL.h / 2 - 8}`"
            stroke-dasharray="2 5"
          />
          <text
            :x="WIDTH / 2 + (solo ? 44 : 8)"
            :y="(rows[0]!.y + rows.at(-1)!.y + CELL.h) / 2"
            class="fill-soft text-[13px]"
            stroke="none"
          >
            {{ show('length', span) }}
          </text>
        </g>
        <g class="text-soft" stroke-width="4">
          <template v-for="row in rows" :key="row.axle.number">
            <line
              v-if="row.axle.wheels > 1"
              :x1="WIDTH / 2 - (dual ? 100 : 92)"
              :x2="WIDTH / 2 + (dual ? 100 : 92)"
              :y1="row.y + CELL.h / 2"
              :y2="row.y + CELL.h / 2"
            />
          </template>
        </g>
      </svg>
      <button
        v-for="p in places"
        :key="p.wheel.code"
        :ref="(el) => (buttons[p.wheel.code] = el as HTMLElement)"
        type="button"
        class="absolute flex flex-col items-center rounded-md"
        :style="{ left: `${p.x - 32}px`, top: `${p.y}px`, width: '64px' }"
        :tabindex="p.wheel.code === focused ? 0 : -1"
        :aria-pressed="p.wheel.code === selected"
        @click="((focused = p.wheel.code), emit('pick', p.wheel.code))"
      >
        <span class="sr-only">{{ p.wheel.name }}, {{ p.wheel.code }}: </span>
        <WheelCell :state="p.state" :selected="p.wheel.code === selected" />
        <span
          class="mt-px bg-ground text-[12.5px] leading-tight font-medium whitespace-nowrap"
          :class="COLOR[p.state.word]"
          >{{ p.state.words || p.wheel.code }}</span
        >
      </button>
    </div>
    <ol class="flex gap-1 overflow-x-auto pb-1 lg:hidden">
      <li v-for="p in places" :key="p.wheel.code">
        <button
          type="button"
          class="relative flex w-16 flex-col items-center rounded-md"
          :aria-pressed="p.wheel.code === selected"
          @click="emit('pick', p.wheel.code)"
        >
          <span class="sr-only">{{ p.wheel.name }}, {{ p.state.words }}: </span>
          <WheelCell :state="p.state" :selected="p.wheel.code === selected" />
          <span class="text-xs font-medium">{{ p.wheel.code }}</span>
        </button>
      </li>
    </ol>
  </div>
</template>
