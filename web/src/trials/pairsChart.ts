// A line for each pair of a trial, from one way of cutting to the other.
import type { EChartsCoreOption } from 'echarts/core'
import type { S } from '../api/client'
import { axis, common, type Ink } from '../charts/ink'
import { say } from '../words/say'

type Pair = S['Trial']['pairs'][number]
type Kilo = (v: number | undefined, sign?: boolean) => string

export const pairWords = (p: Pair, kilo: Kilo) =>
  say`Pair ${p.number}: ${kilo(p.a.per_kg)} and ${kilo(p.b.per_kg)}, ${kilo(p.difference, true)}` +
  (p.outlier ? say(', far from the rest') : '')

export function pairsChart(pairs: Pair[], ways: [string, string], kilo: Kilo) {
  return (i: Ink): EChartsCoreOption => ({
    ...common(i),
    tooltip: {
      ...common(i).tooltip,
      formatter: (p: { seriesIndex: number }) => (pairs[p.seriesIndex] ? pairWords(pairs[p.seriesIndex]!, kilo) : ''),
    },
    xAxis: {
      type: 'category',
      data: ways,
      ...axis(i),
      axisLabel: {
        color: i.ink,
        fontSize: 13,
        lineHeight: 16,
        fontWeight: 650,
        interval: 0,
        width: 190,
        overflow: 'break',
      },
    },
    yAxis: {
      type: 'value',
      scale: true,
      ...axis(i),
      axisLabel: { ...axis(i).axisLabel, formatter: (v: number) => kilo(v) },
    },
    series: pairs.map((p) => ({
      type: 'line',
      data: [p.a.per_kg, p.b.per_kg],
      symbol: 'circle',
      symbolSize: 9,
      itemStyle: { color: i.act },
      lineStyle: { color: i.act, width: 2, type: p.outlier ? [6, 5] : 'solid' },
      emphasis: { focus: 'series', lineStyle: { width: 3 } },
    })),
  })
}
