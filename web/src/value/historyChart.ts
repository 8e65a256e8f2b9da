// The picture of what finished pieces gave: means with the limits of chance over time, or with their spread.
import type { EChartsCoreOption } from 'echarts/core'
import type { S } from '../api/client'
import { axis, common, type Ink } from '../charts/ink'
import { say } from '../words/say'

interface Words {
  name: (b: S['HistoryBucket']) => string
  show: (v: number) => string
  /** Points stand in the order of time. */
  time: boolean
  picked: string
}

/** What a point says. */
export const pointWords = (b: S['HistoryBucket'], w: Words) =>
  `${w.name(b)}: ${w.show(b.mean)}, n = ${b.n}${b.out ? say(', beyond the limits of chance') : ''}`

/** One standard deviation either way, as a line with ends. */
function spread(buckets: S['HistoryBucket'][], i: Ink) {
  interface Api {
    value: (dim: number) => number
    coord: (at: [number, number]) => [number, number]
  }
  const line = (x1: number, y1: number, x2: number, y2: number) => ({
    type: 'line',
    shape: { x1, y1, x2, y2 },
    style: { stroke: i.second, lineWidth: 1.5 },
  })
  return {
    type: 'custom',
    silent: true,
    data: buckets.map((b, k) => [k, b.n > 1 ? b.mean - b.sd : b.mean, b.n > 1 ? b.mean + b.sd : b.mean]),
    encode: { x: 0, y: [1, 2] },
    renderItem: (_: unknown, api: Api) => {
      const [x, low] = api.coord([api.value(0), api.value(1)])
      const [, high] = api.coord([api.value(0), api.value(2)])
      return {
        type: 'group',
        children: [line(x, low, x, high), line(x - 5, low, x + 5, low), line(x - 5, high, x + 5, high)],
      }
    },
  }
}
const limit = (data: (number | null)[], i: Ink) => ({
  type: 'line',
  step: 'middle',
  silent: true,
  symbol: 'none',
  data,
  lineStyle: { color: i.line, type: [5, 4], width: 1.5 },
})

export function historyChart(h: S['History'], w: Words) {
  return (i: Ink): EChartsCoreOption => ({
    ...common(i),
    tooltip: {
      ...common(i).tooltip,
      trigger: 'item',
      formatter: (p: { dataIndex: number }) => (h.buckets[p.dataIndex] ? pointWords(h.buckets[p.dataIndex]!, w) : ''),
    },
    xAxis: {
      type: 'category',
      data: h.buckets.map((b) => `${w.name(b)}\nn = ${b.n}`),
      ...axis(i),
      axisLabel: { ...axis(i).axisLabel, hideOverlap: true, width: 110, overflow: 'truncate', lineHeight: 15 },
    },
    yAxis: {
      type: 'value',
      scale: true,
      ...axis(i),
      axisLabel: { ...axis(i).axisLabel, formatter: (v: number) => w.show(v) },
    },
    ...(h.buckets.length > 20 && { dataZoom: [{ type: 'inside' }, { type: 'slider', height: 20, bottom: 4 }] }),
    ...(h.buckets.length > 20 && { grid: { ...common(i).grid, bottom: 34 } }),
    series: [
      {
        type: 'line',
        data: h.buckets.map((b) => ({
          value: b.mean,
          symbolSize: b.out ? 15 : 10,
          itemStyle: {
            color: b.out || b.key === w.picked ? i.act : i.surface,
            borderColor: b.out || b.key === w.picked ? i.act : i.ink,
            borderWidth: 2,
          },
        })),
        symbol: 'circle',
        showAllSymbol: true,
        lineStyle: { color: i.ink, width: w.time ? 1.5 : 0 },
        emphasis: { scale: 1.4, lineStyle: { width: w.time ? 1.5 : 0 } },
        z: 5,
        markLine: {
          silent: true,
          symbol: 'none',
          label: { show: false },
          lineStyle: { color: i.act, type: 'solid', width: 1 },
          data: [{ yAxis: h.mean }],
        },
      },
      ...(w.time
        ? [
            limit(
              h.buckets.map((b) => b.low ?? null),
              i,
            ),
            limit(
              h.buckets.map((b) => b.high ?? null),
              i,
            ),
          ]
        : [spread(h.buckets, i)]),
    ],
  })
}
