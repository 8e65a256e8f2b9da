// The centre of a roast over the minutes, with the floor and the degree at which it comes out.
import type { EChartsCoreOption } from 'echarts/core'
import type { S } from '../api/client'
import { axis, common, type Ink } from '../charts/ink'
import { say } from '../words/say'

export function probeChart(r: S['ProbeRun'], temperature: (c: number) => string) {
  return (i: Ink): EChartsCoreOption => ({
    ...common(i),
    grid: { ...common(i).grid, bottom: 56 },
    tooltip: {
      ...common(i).tooltip,
      trigger: 'axis',
      formatter: (ps: { value: [number, number] }[]) =>
        ps[0] ? say`minute ${ps[0].value[0].toFixed(0)}: ${temperature(ps[0].value[1])}` : '',
    },
    xAxis: {
      type: 'value',
      max: 'dataMax',
      name: 'minutes',
      nameLocation: 'middle',
      nameGap: 24,
      nameTextStyle: { color: i.second },
      ...axis(i),
      splitLine: { show: false },
      axisLabel: { ...axis(i).axisLabel, formatter: (v: number) => v.toFixed(0) },
    },
    yAxis: { type: 'value', ...axis(i), axisLabel: { ...axis(i).axisLabel, formatter: (v: number) => temperature(v) } },
    dataZoom: [{ type: 'inside' }, { type: 'slider', height: 20, bottom: 4 }],
    series: [
      {
        type: 'line',
        data: r.curve.map((p) => [p.min, p.c]),
        symbol: 'none',
        sampling: 'lttb',
        lineStyle: { color: i.act, width: 2 },
        markLine: {
          silent: true,
          symbol: 'none',
          lineStyle: { color: i.ink, type: [4, 3] },
          label: { color: i.second, position: 'insideStartTop', fontSize: 12 },
          data: [
            { yAxis: r.min_safe_core_c, label: { formatter: say`floor ${temperature(r.min_safe_core_c)}` } },
            ...(r.take_out_c !== undefined
              ? [{ yAxis: r.take_out_c, label: { formatter: say`out at ${temperature(r.take_out_c)}` } }]
              : []),
          ],
        },
      },
    ],
  })
}
