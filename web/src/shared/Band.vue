<script setup lang="ts">
/**
 * Pressure on its band: what the load needs (floor), what tire and wheel allow (ceiling), the target's
 * notch, the reading as a level, a coming dawn as a hatched level. Legible in grey: every part has its
 * own place and shape.
 */
import { useElementSize } from '@vueuse/core'
import { computed, ref, useId } from 'vue'
import { scaleOf } from './scale'
import { figure, show, system, type Toward, toward } from './units'

export interface BandFlag {
  name: string
  kpa: number
  /** A limit is shown rounded to its safe side. */
  toward?: Toward
}
const props = withDefaults(
  defineProps<{
    label: string
    band: {
      floor_kpa: number | null
      target_kpa: number | null
      ceiling_kpa: number | null
      /** The other end of a target that is kept as a range. */
      range_kpa?: number | null
    }
    level?: number | null
    dawn?: number | null
    flags?: BandFlag[]
    size?: 'full' | 'row'
  }>(),
  { level: null, dawn: null, flags: () => [], size: 'full' },
)
const floor = computed(() => props.band.floor_kpa)
const target = computed(() => props.band.target_kpa)
const ceiling = computed(() => props.band.ceiling_kpa)
const range = computed(() => props.band.range_kpa ?? null)
const box = ref<HTMLElement>()
const { width } = useElementSize(box)
const id = useId()

const EDGE = 8
const LANE = 20
const scale = computed(() =>
  scaleOf(
    { floor: floor.value, target: target.value, ceiling: ceiling.value },
    [...props.flags.map((f) => f.kpa), props.level, props.dawn, range.value].filter((v): v is number => v !== null),
  ),
)
const inner = computed(() => Math.max(0, width.value - 2 * EDGE))
const x = (kpa: number) => EDGE + scale.value.at(kpa) * inner.value

/** Schools that nearly agree share a flag; flags that would touch stand in lanes of their own. */
const flags = computed(() => {
  const near = (scale.value.high - scale.value.low) * 0.008
  const merged: { names: string[]; kpa: number; toward: Toward }[] = []
  for (const flag of [...props.flags].sort((a, b) => a.kpa - b.kpa)) {
    const last = merged.at(-1)
    if (last && flag.kpa - last.kpa < near) last.names.push(flag.name)
    else merged.push({ names: [flag.name], kpa: flag.kpa, toward: flag.toward ?? 'nearest' })
  }
  const drawn = merged.map((m) => {
    const text = `${m.names.join(', ')} ${figure('pressure', m.kpa, m.toward)}`
    const at = x(m.kpa)
    const long = text.length * 6.7 + 18
    const flipped = at + long > width.value
    return { text, at, from: flipped ? at - long : at, to: flipped ? at : at + long, flipped, lane: 0 }
  })
  // A flag's pole comes down through the lanes below it, so whoever stands in its span goes lower.
  const order = [...drawn.filter((f) => !f.flipped).reverse(), ...drawn.filter((f) => f.flipped)]
  order.forEach((flag, i) => {
    const inSpan = order.slice(0, i).filter((f) => f.from < flag.to + 4 && f.to > flag.from - 4)
    flag.lane = Math.max(-1, ...inSpan.map((f) => f.lane)) + 1
  })
  return drawn
})
const lanes = computed(() => Math.max(0, ...flags.value.map((f) => f.lane + 1)))
const top = computed(() => (props.size === 'row' ? 4 : lanes.value * LANE + 12))
const bar = computed(() => (props.size === 'row' ? 14 : 32))
const height = computed(() => top.value + bar.value + (props.size === 'row' ? 4 : 26))
const labels = computed(() => {
  const placed: { at: number; text: string; anchor: 'start' | 'middle' | 'end' }[] = []
  if (floor.value !== null)
    placed.push({
      at: x(floor.value),
      text: `${figure('pressure', floor.value, toward(floor.value, target.value ?? ceiling.value))} floor`,
      anchor: 'middle',
    })
  if (ceiling.value !== null)
    placed.push({
      at: x(ceiling.value),
      text: `${figure('pressure', ceiling.value, 'down')} ceiling`,
      anchor: 'middle',
    })
  const [low, high] = placed
  if (low && high && high.at - low.at < 110) {
    low.anchor = 'end'
    high.anchor = 'start'
    // At the edge of a narrow page it is moved in, and the other before it.
    high.at = Math.min(high.at, width.value - high.text.length * 6.7)
    low.at = Math.min(low.at, high.at - 8)
  }
  return placed
})
const spoken = computed(() => {
  void system.value
  const parts = [
    props.level !== null && `at ${show('pressure', props.level)}`,
    props.dawn !== null && `at dawn ${show('pressure', props.dawn)}`,
    floor.value !== null &&
      `floor ${show('pressure', floor.value, toward(floor.value, target.value ?? ceiling.value))}`,
    target.value !== null && `target ${show('pressure', target.value, toward(target.value, ceiling.value))}`,
    range.value !== null && `held as far as ${show('pressure', range.value, toward(range.value, ceiling.value))}`,
    ceiling.value !== null && `ceiling ${show('pressure', ceiling.value, 'down')}`,
    ...props.flags.map((f) => `${f.name} ${show('pressure', f.kpa)}`),
  ]
  return `${props.label}: ${parts.filter(Boolean).join(', ')}`
})
</script>

<template>
  <div ref="box" class="w-full">
    <svg v-if="width > 0" :width="width" :height="height" role="img" :aria-label="spoken" class="block text-ink">
      <defs>
        <pattern :id="`${id}-out`" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="1.4" height="7" class="fill-hairline" />
        </pattern>
        <pattern :id="`${id}-dawn`" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="2" height="5" class="fill-teal" />
        </pattern>
      </defs>
      <rect :x="EDGE" :y="top" :width="inner" :height="bar" class="fill-paper" />
      <rect
        v-if="floor !== null"
        :x="EDGE"
        :y="top"
        :width="Math.max(0, x(floor) - EDGE)"
        :height="bar"
        :fill="`url(#${id}-out)`"
      />
      <rect
        v-if="ceiling !== null"
        :x="x(ceiling)"
        :y="top"
        :width="Math.max(0, EDGE + inner - x(ceiling))"
        :height="bar"
        :fill="`url(#${id}-out)`"
      />
      <rect
        v-if="level !== null"
        :x="EDGE"
        :y="top + bar * 0.18"
        :width="x(level) - EDGE"
        :height="bar * 0.34"
        class="fill-teal"
      />
      <rect
        v-if="dawn !== null"
        :x="EDGE"
        :y="top + bar * 0.6"
        :width="x(dawn) - EDGE"
        :height="bar * 0.3"
        :fill="`url(#${id}-dawn)`"
      />
      <rect :x="EDGE" :y="top" :width="inner" :height="bar" fill="none" class="stroke-soft" />
      <line
        v-if="floor !== null"
        :x1="x(floor)"
        :x2="x(floor)"
        :y1="top - 5"
        :y2="top + bar + 5"
        stroke="currentColor"
        stroke-width="3"
      />
      <line
        v-if="ceiling !== null"
        :x1="x(ceiling)"
        :x2="x(ceiling)"
        :y1="top - 5"
        :y2="top + bar + 5"
        stroke="currentColor"
        stroke-width="3"
      />
      <path
        v-if="target !== null && range !== null"
        :d="`M${x(target)} ${top}H${x(range)}v${bar * 0.35}`"
        fill="none"
        stroke-width="4"
        class="stroke-buoy"
      />
      <path
        v-if="target !== null"
        :d="size === 'row' ? `M${x(target) - 5} ${top - 4}h10l-5 8z` : `M${x(target) - 9} ${top - 8}h18l-9 13z`"
        class="fill-buoy"
        stroke="currentColor"
      />
      <template v-if="size === 'full'">
        <g v-for="f in flags" :key="f.text" class="fill-ink">
          <line :x1="f.at" :x2="f.at" :y1="top - (f.lane + 1) * LANE" :y2="top" class="stroke-soft" />
          <path
            :d="
              f.flipped
                ? `M${f.at} ${top - (f.lane + 1) * LANE}h-8l3 4-3 4h8z`
                : `M${f.at} ${top - (f.lane + 1) * LANE}h8l-3 4 3 4h-8z`
            "
          />
          <text
            :x="f.flipped ? f.at - 12 : f.at + 12"
            :y="top - (f.lane + 1) * LANE + 9"
            :text-anchor="f.flipped ? 'end' : 'start'"
            class="fill-soft text-[13px]"
          >
            {{ f.text }}
          </text>
        </g>
        <text
          v-for="l in labels"
          :key="l.text"
          :x="l.at"
          :y="top + bar + 21"
          :text-anchor="l.anchor"
          class="fill-ink text-[14px]"
        >
          {{ l.text }}
        </text>
      </template>
    </svg>
  </div>
</template>
