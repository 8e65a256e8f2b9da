// Where tubs go: into what is made, and what is left of them.
import type { EChartsCoreOption } from 'echarts/core'
import type { S } from '../api/client'
import { common, type Ink } from '../charts/ink'

interface Flow {
  from: string
  to: string
  g: number
}

/** Every tub's way, what is left of it too. */
export function blendFlows(b: S['Blend']): Flow[] {
  const flows = b.use.map((u) => ({ from: `tub/${u.tub}`, to: `made/${u.recipe}`, g: u.g }))
  for (const t of b.tubs) if (t.left_g > 0.5) flows.push({ from: `tub/${t.tub.id}`, to: 'left', g: t.left_g })
  return flows
}

export function blendChart(flows: Flow[], words: { name: (id: string) => string; mass: (g: number) => string }) {
  const size = new Map<string, number>()
  for (const f of flows) for (const id of [f.from, f.to]) size.set(id, (size.get(id) ?? 0) + f.g)
  return (i: Ink): EChartsCoreOption => ({
    ...common(i),
    tooltip: {
      ...common(i).tooltip,
      formatter: (p: { dataType: string; name: string; data: { source: string; target: string; value: number } }) =>
        p.dataType === 'edge'
          ? `${words.name(p.data.source)} → ${words.name(p.data.target)}\n${words.mass(p.data.value)}`
          : `${words.name(p.name)}\n${words.mass(size.get(p.name) ?? 0)}`,
    },
    series: [
      {
        type: 'sankey',
        left: 4,
        right: 230,
        top: 8,
        bottom: 8,
        nodeWidth: 12,
        nodeGap: 14,
        layoutIterations: 0,
        draggable: false,
        emphasis: { focus: 'adjacency' },
        lineStyle: { color: i.second, opacity: 0.18, curveness: 0.5 },
        label: {
          color: i.ink,
          fontSize: 12,
          textBorderColor: i.ground,
          textBorderWidth: 3,
          formatter: (p: { name: string }) => `${words.name(p.name)}  ${words.mass(size.get(p.name) ?? 0)}`,
        },
        data: [...size.keys()].map((id) => ({
          name: id,
          itemStyle: { color: id.startsWith('made/') ? i.act : id === 'left' ? i.second : i.ink },
        })),
        links: flows.map((f) => ({
          source: f.from,
          target: f.to,
          value: f.g,
          ...(f.to.startsWith('made/') && { lineStyle: { color: i.act, opacity: 0.3 } }),
        })),
      },
    ],
  })
}
