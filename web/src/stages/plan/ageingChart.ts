// How muscles eat by the day: a curve each, named at its end, with today and the steps of the grades.
import type { EChartsCoreOption } from 'echarts/core'
import type { S } from '../../api/client'
import { axis, common, type Ink } from '../../charts/ink'
import { shortName } from '../../words/shown'
import { say } from '../../words/say'

const gradeSteps = [46.5, 64, 76]

export const curveWords = (m: S['Ageing']['muscles'][number]) =>
  say`${shortName(m.name)} by ${m.method.toLowerCase()}: ${m.now.toFixed(0)} today, ${m.gain.toFixed(1)} more in a week`

export function ageingChart(a: S['Ageing']) {
  const all = a.muscles.flatMap((m) => m.curve)
  const least = Math.min(...all) - 2
  const most = Math.max(...all) + 2
  return (i: Ink): EChartsCoreOption => ({
    ...common(i),
    grid: { ...common(i).grid, right: 150, bottom: 22 },
    tooltip: {
      ...common(i).tooltip,
      trigger: 'axis',
      formatter: (ps: { dataIndex: number }[]) => {
        const day = ps[0]?.dataIndex ?? 0
        const lines = a.muscles.map((m) => `${shortName(m.name)}  ${m.curve[day]?.toFixed(0) ?? ''}`)
        return [say`Day ${day + 1}`, ...lines].join('\n')
      },
    },
    xAxis: {
      type: 'category',
      boundaryGap: false,
      data: a.muscles[0]?.curve.map((_, d) => d + 1) ?? [],
      name: say('days after slaughter'),
      nameLocation: 'middle',
      nameGap: 26,
      nameTextStyle: { color: i.second },
      ...axis(i),
      axisLabel: { ...axis(i).axisLabel, interval: (d: number) => (d + 1) % 7 === 0 },
    },
    yAxis: {
      type: 'value',
      min: Math.floor(least),
      max: Math.ceil(most),
      ...axis(i),
      splitLine: { show: false },
      axisLabel: { ...axis(i).axisLabel, showMinLabel: false, showMaxLabel: false },
    },
    series: a.muscles.map((m, k) => ({
      type: 'line',
      name: shortName(m.name),
      data: m.curve,
      symbol: 'none',
      lineStyle: { color: i.act, width: 2 },
      emphasis: { focus: 'series' },
      endLabel: { show: true, formatter: shortName(m.name), color: i.ink, fontWeight: 650, fontSize: 12 },
      labelLayout: { moveOverlap: 'shiftY' },
      ...(k === 0 && {
        markLine: {
          silent: true,
          symbol: 'none',
          label: { color: i.second, fontSize: 12 },
          data: [
            {
              xAxis: a.today - 1,
              lineStyle: { color: i.ink, type: [2, 3] },
              label: { formatter: say('today'), position: 'end' },
            },
            ...gradeSteps
              .filter((g) => g > least && g < most)
              .map((g) => ({
                yAxis: g,
                lineStyle: { color: i.hairline, type: 'solid' },
                label: { formatter: `${g}`, position: 'insideStartTop' },
              })),
          ],
        },
      }),
    })),
  })
}
