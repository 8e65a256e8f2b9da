// The parts of ECharts that the pictures use, in a chunk of their own: drawn as SVG, so that they print well.
import { init, use } from 'echarts/core'
import { CustomChart, LineChart, SankeyChart } from 'echarts/charts'
import {
  AriaComponent,
  DataZoomComponent,
  GridComponent,
  MarkLineComponent,
  TooltipComponent,
} from 'echarts/components'
import { LabelLayout } from 'echarts/features'
import { SVGRenderer } from 'echarts/renderers'

use([
  AriaComponent,
  CustomChart,
  DataZoomComponent,
  GridComponent,
  LineChart,
  MarkLineComponent,
  SankeyChart,
  SVGRenderer,
  LabelLayout,
  TooltipComponent,
])

export { init }
