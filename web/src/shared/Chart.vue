<script setup lang="ts">
/**
 * Pressures over temperature, along a trip, or through time. Lines differ by dash and symbol, so that they part in grey; arrow keys
 * walk the points, and the same figures stand in a table behind it.
 */
import { useElementSize, useMutationObserver } from '@vueuse/core'
import type { EChartsType } from 'echarts/core'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useId, watch } from 'vue'
import Opening from './Opening.vue'
import { figure, show, system, unitOf, type Kind } from './units'

export interface ChartLine {
  name: string
  /** Pressures [kPa], one for each place on the axis; null where there is none. */
  values: (number | null)[]
  dash?: 'solid' | 'dashed' | 'dotted'
  symbol?: 'circle' | 'rect' | 'triangle' | 'diamond'
  color?: 'teal' | 'ink' | 'soft' | 'rust' | 'plum' | 'buoy'
  /** Points alone: shown, not part of the course. */
  points?: boolean
}
const props = withDefaults(
  defineProps<{
    label: string
    /** What stands along the axis, in words. */
    places: string[]
    along: string
    lines: ChartLine[]
    /** Lines across the whole: floors and ceilings [kPa]. */
    across?: { name: string; kpa: number; toward: 'up' | 'down' }[]
    /** What changed at a place along the axis, in a word. */
    marks?: { at: number; words: string }[]
    /** The air at each place [°C], drawn thin against an axis of its own. */
    air?: (number | null)[]
    height?: number
  }>(),
  { across: () => [], marks: () => [], air: () => [], height: 260 },
)

const id = useId()
const box = ref<HTMLElement>()
const chart = shallowRef<EChartsType>()
const { width } = useElementSize(box)
const at = ref<number | null>(null)
const light = ref(document.documentElement.dataset.light)
useMutationObserver(document.documentElement, () => (light.value = document.documentElement.dataset.light), {
  attributes: true,
  attributeFilter: ['data-light'],
})

const SYMBOLS = ['circle', 'rect', 'triangle', 'diamond'] as const
const DASHES = ['solid', 'dashed', 'dotted', 'solid'] as const
const symbolOf = (l: ChartLine, i: number) => l.symbol ?? SYMBOLS[i % SYMBOLS.length]!
const dashOf = (l: ChartLine, i: number) => l.dash ?? DASHES[i % DASHES.length]!
const MARKS = {
  circle: 'M15 2a4 4 0 1 0 .01 0z',
  rect: 'M11 2h8v8h-8z',
  triangle: 'M15 1l5 9h-10z',
  diamond: 'M15 1l5 5-5 5-5-5z',
}
const color = (name: string) =>
  getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim()
const plain = (kind: Kind, value: number) =>
  Number(figure(kind, value).replace(/,/g, '').replace('\u2212', '-'))
const shown = (kpa: number | null) => (kpa === null ? null : plain('pressure', kpa))

/** The step of an axis: one, two or five of a power of ten, some six to a range. */
function stepOf(range: number): number {
  const power = 10 ** Math.floor(Math.log10(range / 6))
  return power * ([1, 2, 5].find((n) => n * power >= range / 6) ?? 10)
}

const option = computed(() => {
  void light.value
  void system.value
  const soft = color('soft')
  const values = [...props.lines.flatMap((l) => l.values), ...props.across.map((a) => a.kpa)].filter(
    (v): v is number => v !== null,
  )
  const low = Math.min(...values)
  const high = Math.max(...values)
  const room = Math.max((high - low) * 0.12, 5)
  const [bottom, top] = [shown(low - room)!, shown(high + room)!]
  const step = stepOf(top - bottom)
  return {
    animation: false,
    textStyle: { fontFamily: 'Atkinson Hyperlegible Next Variable, system-ui, sans-serif', color: soft },
    grid: { left: 52, right: props.air.length ? 46 : 26, top: 22, bottom: 46 },
    xAxis: {
      type: 'category',
      data: props.places,
      name: props.along,
      nameLocation: 'middle',
      nameGap: 28,
      boundaryGap: false,
      axisLine: { onZero: false, lineStyle: { color: soft } },
      axisLabel: { color: soft, hideOverlap: true },
      axisTick: { alignWithLabel: true },
    },
    yAxis: [
      {
        type: 'value',
        min: Math.floor(bottom / step) * step,
        max: Math.ceil(top / step) * step,
        interval: step,
        name: unitOf('pressure'),
        nameTextStyle: { color: soft, align: 'right' },
        axisLabel: { color: soft },
        splitLine: { lineStyle: { color: color('hairline') } },
      },
      ...(props.air.length
        ? [
            {
              type: 'value',
              scale: true,
              name: unitOf('temperature'),
              nameTextStyle: { color: soft, align: 'left' },
              axisLabel: { color: soft },
              splitLine: { show: false },
            },
          ]
        : []),
    ],
    tooltip: {
      trigger: 'axis',
      // Drawn, not written as HTML: the content policy forbids styles inside markup.
      renderMode: 'richText',
      confine: true,
      backgroundColor: color('paper'),
      borderColor: soft,
      textStyle: { color: color('ink') },
      axisPointer: { lineStyle: { color: color('ink') } },
    },
    series: [
      ...props.lines.map((line, i) => {
        const paint = color(line.color ?? 'teal')
        return {
          type: line.points ? 'scatter' : 'line',
          name: line.name,
          data: line.values.map(shown),
          symbol: symbolOf(line, i),
          symbolSize: 8,
          itemStyle: { color: paint },
          lineStyle: { color: paint, width: 2, type: dashOf(line, i) },
          ...(i === 0 && (props.across.length || props.marks.length)
            ? {
                markLine: {
                  symbol: 'none',
                  silent: true,
                  lineStyle: { color: color('ink'), width: 2, type: 'solid' },
                  label: { position: 'insideStartTop', color: color('ink'), formatter: '{b}' },
                  data: [
                    ...props.across.map((a) => ({
                      yAxis: shown(a.kpa),
                      name: `${a.name} ${figure('pressure', a.kpa, a.toward)}`,
                      label: {
                        position: a.toward === 'up' ? 'insideStartTop' : 'insideEndTop',
                        color: color('ink'),
                        formatter: '{b}',
                      },
                    })),
                    ...props.marks.map((m, j) => ({
                      xAxis: m.at,
                      // Of marks side by side the first says it.
                      name: m.at - (props.marks[j - 1]?.at ?? -99) < props.places.length / 8 ? '' : m.words,
                      lineStyle: { color: soft, width: 1, type: 'dotted' },
                      label: { position: 'end', distance: 2, color: soft, formatter: '{b}' },
                    })),
                  ],
                },
              }
            : {}),
        }
      }),
      ...(props.air.length
        ? [
            {
              type: 'line',
              name: 'air',
              yAxisIndex: 1,
              data: props.air.map((c) => (c === null ? null : plain('temperature', c))),
              symbol: 'none',
              itemStyle: { color: soft },
              lineStyle: { color: soft, width: 1, type: 'dotted' },
            },
          ]
        : []),
    ],
  }
})

onMounted(async () => {
  // Fetched where a chart is shown, not before.
  const { draw } = await import('./echarts')
  if (!box.value) return
  chart.value = draw(box.value)
  chart.value.setOption(option.value, true)
})
watch(option, (now) => chart.value?.setOption(now, true))
watch([width, () => props.height], () => chart.value?.resize())
onBeforeUnmount(() => chart.value?.dispose())

function walk(event: KeyboardEvent) {
  const last = props.places.length - 1
  const next = {
    ArrowLeft: Math.max(0, (at.value ?? 1) - 1),
    ArrowRight: Math.min(last, (at.value ?? -1) + 1),
    Home: 0,
    End: last,
  }[event.key]
  if (next === undefined) return
  event.preventDefault()
  at.value = next
  chart.value?.dispatchAction({ type: 'showTip', seriesIndex: 0, dataIndex: next })
}
function leave() {
  at.value = null
  chart.value?.dispatchAction({ type: 'hideTip' })
}
const spoken = computed(() => {
  void system.value
  if (at.value === null) return ''
  const parts = props.lines.map((l) => {
    const value = l.values[at.value!]
    return value === null || value === undefined ? '' : `${l.name} ${show('pressure', value)}`
  })
  const air = props.air[at.value]
  if (typeof air === 'number') parts.push(`air ${show('temperature', air)}`)
  return `${props.places[at.value]}: ${parts.filter(Boolean).join(', ')}`
})
</script>

<template>
  <figure class="min-w-0">
    <figcaption class="flex flex-wrap gap-x-5 text-sm text-soft">
      <span v-for="(l, i) in lines" :key="l.name" class="flex items-center gap-1.5">
        <svg width="30" height="12" aria-hidden="true" :style="{ color: `var(--${l.color ?? 'teal'})` }">
          <line
            v-if="!l.points"
            x1="0"
            x2="30"
            y1="6"
            y2="6"
            stroke="currentColor"
            stroke-width="2"
            :stroke-dasharray="{ solid: undefined, dashed: '6 4', dotted: '2 3' }[dashOf(l, i)]"
          />
          <path :d="MARKS[symbolOf(l, i)]" fill="currentColor" />
        </svg>
        {{ l.name }}
      </span>
      <span v-if="air.length" class="flex items-center gap-1.5">
        <svg width="30" height="12" aria-hidden="true">
          <line x1="0" x2="30" y1="6" y2="6" stroke="currentColor" stroke-dasharray="1 3" />
        </svg>
        air, scale on the right
      </span>
    </figcaption>
    <div
      role="application"
      tabindex="0"
      :aria-label="`Chart: ${label}. Arrow keys walk its points; the table under it has the same figures.`"
      :aria-describedby="`${id}-now`"
      @keydown="walk"
      @blur="leave"
    >
      <div ref="box" aria-hidden="true" :style="{ height: `${height}px` }" />
    </div>
    <p :id="`${id}-now`" class="sr-only" aria-live="polite">{{ spoken }}</p>
    <Opening label="The same as a table" class="text-sm">
      <div class="overflow-x-auto">
        <table class="plain w-full">
          <caption class="sr-only">
            {{
              label
            }}
          </caption>
          <thead>
            <tr>
              <th scope="col">{{ along }}</th>
              <th v-for="l in lines" :key="l.name" scope="col" class="figure">
                {{ l.name }}, {{ unitOf('pressure') }}
              </th>
              <th v-if="air.length" scope="col" class="figure">Air, {{ unitOf('temperature') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(p, i) in places" :key="i">
              <th scope="row" class="font-normal">{{ p }}</th>
              <td v-for="l in lines" :key="l.name" class="figure">
                {{
                  l.values[i] === null || l.values[i] === undefined ? '–' : figure('pressure', l.values[i]!)
                }}
              </td>
              <td v-if="air.length" class="figure">
                {{ air[i] === null || air[i] === undefined ? '–' : figure('temperature', air[i]!) }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </Opening>
  </figure>
</template>
