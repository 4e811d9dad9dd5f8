<script setup lang="ts">
/**
 * Pressures over temperature, along a trip, or through time. Lines differ by dash and symbol, so that they part in grey; arrow keys
 * walk the points, and the same figures stand in a table behind it.
 */
import { useElementSize, useMutationObserver } from '@vueuse/core'
import type { EChartsType } from 'echarts/core'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useId, watch } from 'vue'
import Opening from './Opening.vue'
import { chartOption, dashOf, symbolOf, type ChartLine, type Charted } from './chartOption'
import { figure, show, system, unitOf } from './units'

const props = withDefaults(
  defineProps<Partial<Charted> & Pick<Charted, 'places' | 'along' | 'lines'> & { label: string; height?: number }>(),
  { kind: 'pressure', days: () => [], across: () => [], marks: () => [], air: () => [], height: 260 },
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

const MARKS = {
  circle: 'M15 2a4 4 0 1 0 .01 0z',
  emptyCircle: 'M15 2a4 4 0 1 0 .01 0zM15 3.6a2.4 2.4 0 1 1 -.01 0z',
  rect: 'M11 2h8v8h-8z',
  triangle: 'M15 1l5 9h-10z',
  diamond: 'M15 1l5 5-5 5-5-5z',
  emptyDiamond: 'M15 1l5 5-5 5-5-5zM15 3l-3 3 3 3 3-3z',
}
const option = computed(() => {
  // Drawn anew in another light, and in other units.
  void light.value
  void system.value
  return chartOption(props)
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
function within(l: ChartLine, i: number) {
  const half = l.within?.[i]
  return half == null ? '' : ` ± ${figure(props.kind, half, 'up')}`
}
const spoken = computed(() => {
  void system.value
  if (at.value === null) return ''
  const parts = props.lines.map((l) => {
    const value = l.values[at.value!]
    return value === null || value === undefined ? '' : `${l.name} ${show(props.kind, value)}${within(l, at.value!)}`
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
      <div v-scrolls class="overflow-x-auto">
        <table class="plain w-full">
          <caption class="sr-only">
            {{
              label
            }}
          </caption>
          <thead>
            <tr>
              <th scope="col">{{ along }}</th>
              <th v-for="l in lines" :key="l.name" scope="col" class="figure">{{ l.name }}, {{ unitOf(kind) }}</th>
              <th v-if="air.length" scope="col" class="figure">Air, {{ unitOf('temperature') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(p, i) in places" :key="i">
              <th scope="row" class="font-normal">{{ p }}</th>
              <td v-for="l in lines" :key="l.name" class="figure">
                {{
                  l.values[i] === null || l.values[i] === undefined ? '–' : figure(kind, l.values[i]!) + within(l, i)
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
