// The picture of a product's weeks: what was sold, over the interval that the weeks before it let expect.
import type { EChartsCoreOption } from 'echarts/core'
import type { S } from '../api/client'
import { axis, common, type Ink } from '../charts/ink'
import { plainDay } from '../words/shown'
import { say } from '../words/say'

export interface SoldPoint {
  name: string
  packs?: number
  low?: number
  high?: number
  mean?: number
}

/** The weeks that were, and the one to come. */
export function soldPoints(p: S['SoldProduct'], monday: string): SoldPoint[] {
  const were = p.weeks.map((w) => ({
    name: plainDay(w.monday),
    packs: w.packs,
    low: w.forecast?.low,
    high: w.forecast?.high,
    mean: w.forecast?.mean,
  }))
  return [...were, { name: plainDay(monday), low: p.forecast.low, high: p.forecast.high, mean: p.forecast.mean }]
}

export const soldWords = (p: SoldPoint) =>
  say`Week of ${p.name}: ` +
  [
    p.packs === undefined ? '' : say`${p.packs} packs sold`,
    p.low === undefined ? say('nothing was known before it') : say`${p.low} to ${p.high} expected`,
  ]
    .filter(Boolean)
    .join(', ')

/** A bar of the interval with its mean, drawn behind the points. */
function expected(points: SoldPoint[], i: Ink) {
  interface Api {
    value: (dim: number) => number
    coord: (at: [number, number]) => [number, number]
    size: (of: [number, number]) => [number, number]
  }
  return {
    type: 'custom',
    silent: true,
    data: points.map((p, k) => [k, p.low ?? null, p.high ?? null, p.mean ?? null]),
    encode: { x: 0, y: [1, 2] },
    renderItem: (_: unknown, api: Api) => {
      const k = api.value(0)
      const p = points[k]
      if (p?.low === undefined || p.high === undefined) return
      const [x, low] = api.coord([k, p.low])
      const [, high] = api.coord([k, p.high])
      const [, mean] = api.coord([k, p.mean ?? p.low])
      const half = Math.min(26, api.size([1, 0])[0] * 0.28)
      const style = { fill: 'none', stroke: i.second, lineWidth: 1.5, lineDash: [4, 3] }
      return {
        type: 'group',
        children: [
          { type: 'rect', shape: { x: x - half, y: high, width: 2 * half, height: Math.max(1, low - high) }, style },
          { type: 'line', shape: { x1: x - half, x2: x + half, y1: mean, y2: mean }, style: { stroke: i.second } },
        ],
      }
    },
  }
}

export function soldChart(points: SoldPoint[]) {
  return (i: Ink): EChartsCoreOption => ({
    ...common(i),
    tooltip: {
      ...common(i).tooltip,
      trigger: 'item',
      formatter: (p: { dataIndex: number }) => (points[p.dataIndex] ? soldWords(points[p.dataIndex]!) : ''),
    },
    xAxis: { type: 'category', data: points.map((p) => p.name), ...axis(i) },
    yAxis: { type: 'value', min: 0, ...axis(i) },
    series: [
      {
        type: 'line',
        data: points.map((p) => ({
          value: p.packs ?? null,
          itemStyle: {
            color: p.low !== undefined && !(p.low <= (p.packs ?? 0) && (p.packs ?? 0) <= (p.high ?? 0)) ? i.act : i.ink,
          },
        })),
        symbol: 'circle',
        symbolSize: 11,
        showAllSymbol: true,
        lineStyle: { color: i.ink, width: 1.5 },
        z: 5,
      },
      expected(points, i),
    ],
  })
}
