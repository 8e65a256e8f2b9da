// Where tubs go: into what is made, and what is left of them.
import type { S } from '../api/client'
import type { Ink } from '../charts/ink'
import { sankey } from '../charts/sankey'

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
  const said = {
    name: words.name,
    place: (id: string) => words.mass(size.get(id) ?? 0),
    band: (l: { value: number }) => words.mass(l.value),
  }
  return (i: Ink) =>
    sankey(i, said, {
      right: 230,
      nodeGap: 14,
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
    })
}
