/** What the charts' library is told to draw: lines over places, or over time where time is meant, with round ticks. */
import { figure, unitOf, type Kind, type Toward } from './units'

export interface ChartLine {
  name: string
  /** Canonical values, one for each place on the axis; null where there is none. */
  values: (number | null)[]
  dash?: 'solid' | 'dashed' | 'dotted'
  symbol?: 'circle' | 'rect' | 'triangle' | 'diamond' | 'emptyCircle' | 'emptyDiamond'
  color?: 'teal' | 'ink' | 'soft' | 'rust' | 'plum' | 'buoy'
  /** Points alone: shown, not part of the course. */
  points?: boolean
  /** Goes on over places at which only others were read; where this one was not read it breaks. */
  joined?: boolean
  /** Half-widths at 95 %, one for each place: drawn through the points. */
  within?: (number | null)[]
}
/** What a chart shows. */
export interface Charted {
  kind: Kind
  /** What stands along the axis, in words. */
  places: string[]
  /** The moment of each place: the axis is time then. */
  days: string[]
  along: string
  lines: ChartLine[]
  /** Lines across the whole: floors and ceilings. */
  across: { name: string; kpa: number; toward: Toward }[]
  /** What changed at a place along the axis, in a word. */
  marks: { at: number; words: string }[]
  /** The air at each place [°C], drawn thin against an axis of its own; over places without one it goes on. */
  air: (number | null)[]
}

const SYMBOLS = ['circle', 'rect', 'triangle', 'diamond'] as const
const DASHES = ['solid', 'dashed', 'dotted', 'solid'] as const
export const symbolOf = (l: ChartLine, i: number) => l.symbol ?? SYMBOLS[i % SYMBOLS.length]!
export const dashOf = (l: ChartLine, i: number) => l.dash ?? DASHES[i % DASHES.length]!
const color = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim()
const plain = (kind: Kind, value: number) => Number(figure(kind, value).replace(/,/g, '').replace('\u2212', '-'))

/** How a time axis says its ticks. */
const TIMES = { year: '{yyyy}', month: '{MMM}', day: '{MMM} {d}', hour: '{HH}:{mm}', minute: '{HH}:{mm}' }
/** What the library tells of a place that is pointed at. */
interface Shown {
  dataIndex: number
  seriesName: string
  value: [number, number | null]
}

/** The step of an axis: one, two or five of a power of ten, some six to a range. */
function stepOf(range: number): number {
  const power = 10 ** Math.floor(Math.log10(range / 6))
  return power * ([1, 2, 5].find((n) => n * power >= range / 6) ?? 10)
}

/** Where a line's points may lie: the place of each, and both its ends. */
const reach = (line: ChartLine) =>
  line.values.flatMap((v, i) => {
    const within = line.within?.[i]
    return v === null || within == null ? [] : [[i, v - within, v + within] as const]
  })

/** Both ends of the axis and its step, with a little room over and under what is drawn. */
function scaled(of: Charted) {
  const ends = of.lines.flatMap((l) => (l.within ? reach(l).flatMap(([, low, high]) => [low, high]) : l.values))
  const values = [...ends, ...of.across.map((a) => a.kpa)].filter((v): v is number => v !== null)
  const [low, high] = [Math.min(...values), Math.max(...values)]
  // Plain numbers are small, and none of them is below nothing.
  const room = Math.max((high - low) * 0.12, of.kind === 'number' ? 0.5 : 5)
  const bottom = of.kind === 'number' ? Math.max(0, low - room) : plain(of.kind, low - room)
  const top = plain(of.kind, high + room)
  const step = stepOf(top - bottom)
  return { min: Math.floor(bottom / step) * step, max: Math.ceil(top / step) * step, interval: step }
}

/** Lines across, and what changed at a place. */
function markLine(of: Charted, at: (i: number) => number) {
  const [ink, soft] = [color('ink'), color('soft')]
  return {
    symbol: 'none',
    silent: true,
    lineStyle: { color: ink, width: 2, type: 'solid' },
    label: { position: 'insideStartTop', color: ink, formatter: '{b}' },
    data: [
      ...of.across.map((a) => ({
        yAxis: plain(of.kind, a.kpa),
        name: `${a.name} ${figure(of.kind, a.kpa, a.toward)}`,
        label: {
          position: a.toward === 'up' ? 'insideStartTop' : 'insideEndTop',
          color: ink,
          formatter: '{b}',
        },
      })),
      ...of.marks.map((m, j) => ({
        xAxis: at(m.at),
        // Of marks side by side the first says it.
        name: m.at - (of.marks[j - 1]?.at ?? -99) < of.places.length / 8 ? '' : m.words,
        lineStyle: { color: soft, width: 1, type: 'dotted' },
        label: { position: 'end', distance: 2, color: soft, formatter: '{b}' },
      })),
    ],
  }
}

export function chartOption(of: Charted) {
  const soft = color('soft')
  const timed = of.days.length > 0
  const at = (i: number) => (timed ? Date.parse(of.days[i]!) : i)
  const drawn = (values: (number | null)[], kind: Kind) =>
    values.map((v, i) => [at(i), v === null ? null : plain(kind, v)])
  const whiskers = (line: ChartLine, paint: string) => ({
    symbol: 'none',
    silent: true,
    label: { show: false },
    lineStyle: { color: paint, width: 1, type: 'solid' },
    data: reach(line).map(([i, ...ends]) => ends.map((end) => ({ coord: [at(i), plain(of.kind, end)] }))),
  })
  return {
    animation: false,
    textStyle: { fontFamily: 'Atkinson Hyperlegible Next Variable, system-ui, sans-serif', color: soft },
    grid: { left: 58, right: of.air.length ? 46 : 26, top: 22, bottom: 46 },
    xAxis: {
      ...(timed ? { type: 'time' } : { type: 'category', data: of.places, boundaryGap: false }),
      name: of.along,
      nameLocation: 'middle',
      nameGap: 28,
      axisLine: { onZero: false, lineStyle: { color: soft } },
      axisLabel: { color: soft, hideOverlap: true, ...(timed ? { formatter: TIMES } : {}) },
      axisTick: { alignWithLabel: true },
      splitLine: { show: false },
    },
    yAxis: [
      {
        type: 'value',
        ...scaled(of),
        name: unitOf(of.kind),
        nameTextStyle: { color: soft, align: 'right' },
        axisLabel: { color: soft },
        splitLine: { lineStyle: { color: color('hairline') } },
      },
      ...(of.air.length
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
      formatter: (shown: Shown[]) =>
        [
          of.places[shown[0]?.dataIndex ?? 0],
          ...shown.map((s) => `${s.seriesName} ${s.value[1] === null ? '–' : s.value[1]}`),
        ].join('\n'),
    },
    series: [
      ...of.lines.map((line, i) => {
        const paint = color(line.color ?? 'teal')
        return {
          type: line.points ? 'scatter' : 'line',
          name: line.name,
          data: drawn(line.values, of.kind),
          symbol: symbolOf(line, i),
          symbolSize: 8,
          itemStyle: { color: paint },
          lineStyle: { color: paint, width: 2, type: dashOf(line, i) },
          connectNulls: Boolean(line.joined),
          ...(i === 0 && (of.across.length || of.marks.length) ? { markLine: markLine(of, at) } : {}),
          ...(line.within ? { markLine: whiskers(line, paint) } : {}),
        }
      }),
      ...(of.air.length
        ? [
            {
              type: 'line',
              name: 'air',
              yAxisIndex: 1,
              data: drawn(of.air, 'temperature'),
              connectNulls: true,
              symbol: 'none',
              itemStyle: { color: soft },
              lineStyle: { color: soft, width: 1, type: 'dotted' },
            },
          ]
        : []),
    ],
  }
}
