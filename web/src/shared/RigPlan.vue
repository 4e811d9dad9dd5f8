<script setup lang="ts">
/** The rig from above, nose up, from its own spacings: every wheel a cell that is picked; narrow, a strip in walking order. */
import { computed, ref, watch } from 'vue'
import { show, system } from './units'
import { useWide } from './wide'
import { BLANK_WHEEL, type WheelState } from './scale'
import WheelCell from './WheelCell.vue'
import { COLOR } from './words'

export interface PlanAxle {
  number: number
  name: string
  /** Where nobody measured it is null, and drawn as usual. */
  position_m: number | null
  drawn: { position_m: number }
  wheels: number
}
export interface PlanWheel {
  code: string
  name: string
  axle: number | null
  side: 'L' | 'R' | 'C' | null
  inner: boolean
}
export interface PlanVehicle {
  name: string
  trailer: boolean
  axles: PlanAxle[]
  wheels: PlanWheel[]
}
const props = defineProps<{
  /** From the front: a rig, or all of its combination. */
  vehicles: PlanVehicle[]
  states: Record<string, WheelState>
  selected?: string | null
  label: string
  /** The codes in walking order; without it each vehicle's own. */
  order?: string[]
  /** Wheels that stand on the scale. */
  standing?: string[]
}>()
const emit = defineEmits<{ pick: [code: string]; carry: [from: string, to: string] }>()

const wide = useWide()
const WIDTH = 316
const CELL = { w: 60, h: 76 }
const ROW = CELL.h + 26
const DUAL_STEP = 57
interface Body {
  vehicle: PlanVehicle
  rows: { axle: PlanAxle; y: number }[]
  top: number
  end: number
  half: number
  dual: boolean
  solo: boolean
  /** Front to rear axle, where it was measured. */
  measured: number
  spares: PlanWheel[]
}

/** Axles at their own spacing, but never so close that cells touch; one vehicle under the other. */
const bodies = computed<Body[]>(() => {
  let top = 0
  return props.vehicles.map((vehicle) => {
    const axles = vehicle.axles
    const span = (axles.at(-1)?.drawn.position_m ?? 0) - (axles[0]?.drawn.position_m ?? 0)
    const measured = axles.some((a) => a.position_m === null) ? 0 : span
    const most = props.vehicles.length > 1 ? 180 : 300
    const perMeter = span > 0 ? Math.min(46, most / span) : 0
    let y = top + (vehicle.trailer ? 96 : 62)
    const rows = axles.map((axle, i) => {
      if (i) y += Math.max(ROW + 8, (axle.drawn.position_m - axles[i - 1]!.drawn.position_m) * perMeter)
      return { axle, y }
    })
    const spares = vehicle.wheels.filter((w) => w.axle === null)
    const dual = axles.some((a) => a.wheels === 4)
    const solo = axles.every((a) => a.wheels === 1)
    const end = (rows.at(-1)?.y ?? top) + CELL.h + 22
    const body = { vehicle, rows, top, end, measured, spares, dual, solo, half: solo ? 22 : dual ? 42 : 56 }
    top = end + (spares.length ? ROW + 22 : 10)
    return body
  })
})
const height = computed(() => {
  const last = bodies.value.at(-1)
  return last ? last.end + (last.spares.length ? ROW + 22 : 10) : 0
})

function center(wheel: PlanWheel, body: Body): number {
  if (wheel.side === null) {
    const i = body.spares.indexOf(wheel)
    return WIDTH / 2 + (i - (body.spares.length - 1) / 2) * (CELL.w + 10)
  }
  if (wheel.side === 'C') return WIDTH / 2
  const axle = body.vehicle.axles.find((a) => a.number === wheel.axle)
  const outer = body.dual ? 128 : 92
  const off = axle?.wheels === 4 ? (wheel.inner ? outer - DUAL_STEP : outer) : body.dual ? 100 : outer
  return WIDTH / 2 + (wheel.side === 'L' ? -off : off)
}
const places = computed(() =>
  bodies.value.flatMap((body) =>
    body.vehicle.wheels.map((wheel) => {
      const row = wheel.axle === null ? undefined : body.rows.find((r) => r.axle.number === wheel.axle)
      return {
        wheel,
        x: center(wheel, body),
        y: row ? row.y : body.end + 18,
        state: props.states[wheel.code] ?? BLANK_WHEEL,
        standing: props.standing?.includes(wheel.code) ?? false,
      }
    }),
  ),
)

/** The strip on a phone: as the whole is walked. */
const walk = computed(() => {
  const place = (p: (typeof places.value)[number]) => props.order?.indexOf(p.wheel.code) ?? 0
  return [...places.value].sort((p, q) => place(p) - place(q))
})
const strip = ref<HTMLElement>()
watch(
  () => props.selected,
  (code) => {
    const at = walk.value.findIndex((p) => p.wheel.code === code)
    if (strip.value) strip.value.scrollTo({ left: Math.max(0, at * 68 - (strip.value.clientWidth - 64) / 2) })
  },
  { flush: 'post' },
)
/** What comes to stand on the scale is brought into view where the plan is longer than the screen. */
watch(
  () => props.standing?.at(-1),
  (code) => code && buttons.value[code]?.scrollIntoView({ block: 'nearest' }),
)

const buttons = ref<Record<string, HTMLElement>>({})
const focused = ref(props.selected ?? props.vehicles[0]?.wheels[0]?.code ?? '')
watch(
  () => props.selected,
  (now) => now && (focused.value = now),
)

/** Where a wheel is pressed, and where it is let go: over another one it was carried there. */
const pressed = ref<string | null>(null)
function letGo(event: PointerEvent) {
  const under = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>('[data-wheel]')
  const [from, to] = [pressed.value, under?.dataset.wheel]
  pressed.value = null
  if (from && to && from !== to) emit('carry', from, to)
}

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
  <div role="group" :aria-label="label" @keydown="move" @pointerup="letGo">
    <div v-if="wide" class="relative mx-auto" :style="{ width: `${WIDTH}px`, height: `${height}px` }">
      <svg
        :width="WIDTH"
        :height="height"
        class="absolute inset-0 text-hairline"
        aria-hidden="true"
        fill="none"
        stroke="currentColor"
      >
        <rect
          v-for="p in places.filter((p) => p.standing)"
          :key="p.wheel.code"
          :x="p.x - 30"
          :y="p.y - 5"
          width="60"
          height="106"
          class="fill-tealwash stroke-teal"
          stroke-width="1.5"
        />
        <template v-for="body in bodies" :key="body.vehicle.name">
          <g stroke-width="2">
            <path
              v-if="body.vehicle.trailer"
              :d="`M${WIDTH / 2} ${body.top + 6}L${WIDTH / 2 - body.half} ${body.top + 60}V${body.end}H${WIDTH / 2 + body.half}V${body.top + 60}z`"
            />
            <path
              v-else-if="body.solo"
              :d="`M${WIDTH / 2} ${body.top + 14}V${body.end}M${WIDTH / 2 - 46} ${body.top + 34}q46 -22 92 0`"
            />
            <path
              v-else
              :d="`M${WIDTH / 2 - body.half} ${body.end}V${body.top + 24}q${body.half} -26 ${2 * body.half} 0V${body.end}zM${WIDTH / 2 - body.half + 7} ${body.top + 50}q${body.half - 7} -18 ${2 * body.half - 14} 0`"
            />
            <circle v-if="body.vehicle.trailer" :cx="WIDTH / 2" :cy="body.top + 6" r="5" />
            <path
              v-if="body.vehicle.trailer && body.top"
              :d="`M${WIDTH / 2} ${body.top + 1}v-10`"
              stroke-dasharray="3 3"
            />
          </g>
          <g v-if="body.rows.length > 1 && body.measured" stroke-width="1.5">
            <path
              :d="`M${WIDTH / 2} ${body.rows[0]!.y + CELL.h / 2 + 8}V${body.rows.at(-1)!.y + CELL.h / 2 - 8}`"
              stroke-dasharray="2 5"
            />
            <text
              :x="WIDTH / 2 + (body.solo ? 44 : 8)"
              :y="(body.rows[0]!.y + body.rows.at(-1)!.y + CELL.h) / 2"
              class="fill-soft text-[13px]"
              stroke="none"
            >
              {{ show('length', body.measured) }}
            </text>
          </g>
          <g class="text-soft" stroke-width="4">
            <template v-for="row in body.rows" :key="row.axle.number">
              <line
                v-if="row.axle.wheels > 1"
                :x1="WIDTH / 2 - (body.dual ? 100 : 92)"
                :x2="WIDTH / 2 + (body.dual ? 100 : 92)"
                :y1="row.y + CELL.h / 2"
                :y2="row.y + CELL.h / 2"
              />
            </template>
          </g>
          <text
            v-if="bodies.length > 1"
            :x="WIDTH"
            :y="body.top + 34"
            text-anchor="end"
            class="fill-soft text-[13px]"
            stroke="none"
          >
            {{ body.vehicle.name }}
          </text>
        </template>
      </svg>
      <button
        v-for="p in places"
        :key="p.wheel.code"
        :ref="(el) => (buttons[p.wheel.code] = el as HTMLElement)"
        v-memo="[p.state, p.x, p.y, p.wheel.name, p.wheel.code === selected, p.wheel.code === focused, system]"
        type="button"
        class="absolute flex flex-col items-center rounded-md"
        :style="{ left: `${p.x - 32}px`, top: `${p.y}px`, width: '64px' }"
        :data-wheel="p.wheel.code"
        :tabindex="p.wheel.code === focused ? 0 : -1"
        :aria-pressed="p.wheel.code === selected"
        @pointerdown="pressed = p.wheel.code"
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
    <ol v-else ref="strip" class="flex gap-1 overflow-x-auto pb-1">
      <li
        v-for="p in walk"
        :key="p.wheel.code"
        v-memo="[p.state, p.standing, p.wheel.name, p.wheel.code === selected, system]"
      >
        <button
          type="button"
          class="relative flex w-16 flex-col items-center rounded-md"
          :class="{ 'bg-tealwash': p.standing }"
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
