/** The parts of the chart library that are used, drawn as SVG. Loaded with the first chart. */
import { LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { init, use, type EChartsType } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'

use([LineChart, ScatterChart, GridComponent, MarkLineComponent, TooltipComponent, SVGRenderer])

export const draw = (element: HTMLElement): EChartsType => init(element, null, { renderer: 'svg' })
