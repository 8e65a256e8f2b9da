// Where something goes, drawn as bands: each as wide as what goes there.
import type { EChartsCoreOption } from 'echarts/core'
import { common, type Ink } from './ink'

interface Link {
  source: string
  target: string
  value: number
}

/** What is said of a place and of a band. */
export interface SankeyWords<L> {
  name: (id: string) => string
  place: (id: string) => string
  band: (link: L) => string
}

/** The options of the chart. `right` is the room for the names, in px. */
export function sankey<L extends Link>(
  i: Ink,
  words: SankeyWords<L>,
  own: { right: number; nodeGap: number; data: { name: string }[]; links: L[] } & Record<string, unknown>,
): EChartsCoreOption {
  return {
    ...common(i),
    tooltip: {
      ...common(i).tooltip,
      formatter: (p: { dataType: string; name: string; data: L }) =>
        p.dataType === 'edge'
          ? `${words.name(p.data.source)} → ${words.name(p.data.target)}\n${words.band(p.data)}`
          : `${words.name(p.name)}\n${words.place(p.name)}`,
    },
    series: [
      {
        type: 'sankey',
        left: 4,
        top: 8,
        bottom: 8,
        nodeWidth: 12,
        layoutIterations: 0,
        draggable: false,
        emphasis: { focus: 'adjacency' },
        lineStyle: { color: i.second, opacity: 0.16, curveness: 0.5 },
        label: {
          color: i.ink,
          fontSize: 12,
          textBorderColor: i.ground,
          textBorderWidth: 3,
          formatter: (p: { name: string }) => `${words.name(p.name)}  ${words.place(p.name)}`,
        },
        ...own,
      },
    ],
  }
}
