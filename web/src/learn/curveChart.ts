// The picture of learning: minutes of each piece, the curve through them with its band, and the house's minutes.
import type { EChartsCoreOption } from 'echarts/core'
import type { S } from '../api/client'
import { axis, common, type Ink } from '../charts/ink'
import { plainDay } from '../words/shown'
import { say } from '../words/say'

type Curve = S['LearnedCurve']

const timed = (c: Curve) => c.cuts.filter((x) => x.minutes > 0)

export const curveWords = (c: Curve, i: number) => {
  const cut = timed(c)[i]!
  return say`Piece ${i + 1}, ${plainDay(cut.on)}: ${cut.minutes.toFixed(1)} minutes`
}

export function curveChart(c: Curve) {
  const cuts = timed(c)
  const n = Math.max(cuts.length, c.points.length)
  return (i: Ink): EChartsCoreOption => ({
    ...common(i),
    tooltip: {
      ...common(i).tooltip,
      trigger: 'item',
      formatter: (p: { dataIndex: number }) => (cuts[p.dataIndex] ? curveWords(c, p.dataIndex) : ''),
    },
    xAxis: { type: 'category', data: Array.from({ length: n }, (_, k) => `${k + 1}`), ...axis(i) },
    yAxis: { type: 'value', min: 0, ...axis(i) },
    series: [
      {
        type: 'line',
        data: cuts.map((x) => x.minutes),
        symbol: 'circle',
        symbolSize: 9,
        showAllSymbol: true,
        lineStyle: { width: 0 },
        itemStyle: { color: i.ink },
        z: 5,
      },
      line(
        c.points.map((p) => p.minutes),
        { color: i.act, width: 2 },
      ),
      line(
        c.points.map((p) => p.low),
        { color: i.act, width: 1, type: [3, 4] },
      ),
      line(
        c.points.map((p) => p.high),
        { color: i.act, width: 1, type: [3, 4] },
      ),
      ...(c.house_minutes
        ? [
            {
              ...line(Array(n).fill(c.house_minutes), { color: i.second, width: 1.5, type: [8, 5] }),
              endLabel: { show: true, formatter: say('others'), color: i.second, offset: [-42, -10] },
            },
          ]
        : []),
    ],
  })
}

const line = (data: number[], lineStyle: object) => ({
  type: 'line' as const,
  data,
  symbol: 'none',
  silent: true,
  lineStyle,
})
