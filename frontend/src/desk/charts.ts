// The parts of ECharts that our charts are made of; fetched with the first of them.
import { BarChart, ScatterChart, type BarSeriesOption, type ScatterSeriesOption } from 'echarts/charts'
import {
  AriaComponent,
  GridComponent,
  MarkAreaComponent,
  MarkLineComponent,
  TooltipComponent,
  type GridComponentOption,
} from 'echarts/components'
import { init, use, type ComposeOption } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'

use([
  AriaComponent,
  BarChart,
  GridComponent,
  MarkAreaComponent,
  MarkLineComponent,
  ScatterChart,
  SVGRenderer,
  TooltipComponent,
])

export type ChartOption = ComposeOption<BarSeriesOption | ScatterSeriesOption | GridComponentOption>

export const chartIn = (place: HTMLElement) => init(place, null, { renderer: 'svg' })
