<script setup lang="ts">
// A chart with what goes with it: arrow keys step through its points, Enter picks one, it can be kept as PNG or SVG,
// and what it shows stands in a table beside it.
import { onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { ECharts, EChartsCoreOption } from 'echarts/core'
import { useEventListener } from '../shell/useEventListener'
import { inkOf, type Ink } from './ink'
import KeepPicture from './KeepPicture.vue'

const props = withDefaults(
  defineProps<{
    /** What is drawn, in the colours of the page. */
    option: (i: Ink) => EChartsCoreOption
    /** What the picture shows, in a sentence. */
    label: string
    /** Each point that can be stepped to, in words. */
    points?: string[]
    /** Where the points stand: the series that holds them, or one series for each. */
    series?: 'first' | 'each'
    height?: number
    least?: number
    /** Name of the file it is kept in. */
    file: string
    pickable?: boolean
  }>(),
  { points: () => [], series: 'first', height: 300, least: 0 },
)
const emit = defineEmits<{ pick: [number]; node: [string] }>()
const box = useTemplateRef<HTMLElement>('box')
const chart = shallowRef<ECharts>()
const failed = ref(false)
const at = ref(-1)
let sizes: ResizeObserver | undefined
let colours: MutationObserver | undefined

const draw = () => box.value && chart.value?.setOption(props.option(inkOf(box.value)), { notMerge: true })
onMounted(async () => {
  try {
    const { init } = await import('./engine')
    if (!box.value) return
    chart.value = init(box.value, undefined, { renderer: 'svg' })
  } catch {
    failed.value = true // the table has it all
    return
  }
  draw()
  chart.value.on('click', (e) => {
    if (e.dataType === 'node') emit('node', e.name)
    else if (typeof e.dataIndex === 'number') emit('pick', props.series === 'each' ? (e.seriesIndex ?? 0) : e.dataIndex)
  })
  sizes = new ResizeObserver(() => chart.value?.resize())
  sizes.observe(box.value!)
  colours = new MutationObserver(draw)
  colours.observe(document.documentElement, { attributeFilter: ['data-scheme'] })
})
onBeforeUnmount(() => {
  sizes?.disconnect()
  colours?.disconnect()
  chart.value?.dispose()
})
watch(() => props.option, draw)

function step(by: number) {
  if (!props.points.length) return
  at.value = (at.value + by + props.points.length) % props.points.length
  const where =
    props.series === 'each' ? { seriesIndex: at.value, dataIndex: 0 } : { seriesIndex: 0, dataIndex: at.value }
  chart.value?.dispatchAction({ type: 'downplay' })
  chart.value?.dispatchAction({ type: 'highlight', ...where })
  chart.value?.dispatchAction({ type: 'showTip', ...where })
}
function keys(e: KeyboardEvent) {
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[e.key]
  if (by) step(by)
  else if (e.key === 'Enter' && props.pickable && at.value >= 0) emit('pick', at.value)
  else if (e.key === 'Escape') chart.value?.dispatchAction({ type: 'hideTip' })
  else return
  e.preventDefault()
}
const drawn = () =>
  chart.value && box.value
    ? {
        svg: chart.value.renderToSVGString(),
        width: chart.value.getWidth(),
        height: chart.value.getHeight(),
        ground: inkOf(box.value).ground,
      }
    : undefined
useEventListener('beforeprint', () => chart.value?.resize())
</script>

<template>
  <figure class="chart">
    <div v-wide class="scroll">
      <div
        ref="box"
        class="plot"
        :style="{ height: `${height}px`, minWidth: `${least}px` }"
        role="group"
        aria-roledescription="chart"
        :aria-label="label"
        :tabindex="points.length ? 0 : undefined"
        data-test="plot"
        :data-drawn="!!chart"
        @keydown="keys"
      />
    </div>
    <p class="vh" aria-live="polite">{{ points[at] }}</p>
    <p v-if="failed" class="small" role="status">The picture could not be loaded; the table shows the same.</p>
    <figcaption class="small"><slot /></figcaption>
    <KeepPicture :file="file" :drawn="drawn" />
    <details v-if="$slots.table">
      <summary>As a table</summary>
      <slot name="table" />
    </details>
  </figure>
</template>

<style scoped>
.chart {
  margin: 0 0 14px;
}
.scroll {
  overflow-x: auto;
}
.plot {
  width: 100%;
}
summary {
  min-height: 44px;
  padding-top: 12px;
  cursor: pointer;
}
</style>
