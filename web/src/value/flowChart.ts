// Where a carcass goes: into its pieces and their products; of a piece that is chosen, over its muscles.
import type { S } from '../api/client'
import type { Ink } from '../charts/ink'
import { sankey } from '../charts/sankey'

export type Measure = 'weight_g' | 'value'
type Flow = S['CarcassFlow']

export const pieceOf = (id: string) => id.split('/')[1] ?? ''

/** Of a whole, what is drawn by itself; the products that are less are one. */
const smallest = 0.012

/** The flows that are drawn: pieces straight to products, but for the one that is open, which goes over its muscles. */
export function shownFlows(flows: Flow[], by: Measure, open: string): Flow[] {
  const direct = flows.filter((f) => f.from === 'carcass')
  const opened = flows.filter((f) => f.from !== 'carcass' && pieceOf(f.from) === open)
  const folded = flows
    .filter((f) => f.to.startsWith('product/') && pieceOf(f.from) !== open)
    .map((f) => ({ ...f, from: `piece/${pieceOf(f.from)}` }))
  const total = direct.reduce((n, f) => n + f[by], 0) || 1
  const size = new Map<string, number>()
  for (const f of [...opened, ...folded]) if (f.to.startsWith('product/')) size.set(f.to, (size.get(f.to) ?? 0) + f[by])
  const sum = new Map<string, Flow>()
  for (const f of [...direct, ...opened, ...folded]) {
    const to = f.to.startsWith('product/') && (size.get(f.to) ?? 0) / total < smallest ? 'product/rest' : f.to
    const had = sum.get(`${f.from} ${to}`)
    sum.set(`${f.from} ${to}`, {
      from: f.from,
      to,
      weight_g: (had?.weight_g ?? 0) + f.weight_g,
      value: (had?.value ?? 0) + f.value,
    })
  }
  return [...sum.values()].filter((f) => f[by] > 0)
}

export function flowChart(
  flows: Flow[],
  by: Measure,
  open: string,
  words: { name: (id: string) => string; show: (weight: number, value: number) => string },
) {
  const into = new Map<string, { weight: number; value: number }>()
  const count = (id: string, f: Flow) => {
    const had = into.get(id) ?? { weight: 0, value: 0 }
    into.set(id, { weight: had.weight + f.weight_g, value: had.value + f.value })
  }
  for (const f of flows) {
    if (f.from === 'carcass') count('carcass', f)
    count(f.to, f)
  }
  const figure = (id: string) => words.show(into.get(id)?.weight ?? 0, into.get(id)?.value ?? 0)
  const links = flows.map((f) => ({ source: f.from, target: f.to, value: f[by], flow: f }))
  const isOpen = (f: Flow) => open && (pieceOf(f.from) === open || (f.from === 'carcass' && pieceOf(f.to) === open))
  const said = {
    name: words.name,
    place: figure,
    band: (l: (typeof links)[number]) => words.show(l.flow.weight_g, l.flow.value),
  }
  return (i: Ink) =>
    sankey(i, said, {
      right: 280,
      nodeGap: 9,
      nodeAlign: 'justify',
      labelLayout: { hideOverlap: true },
      data: [...into.keys()].map((id) => ({
        name: id,
        itemStyle: { color: open && pieceOf(id) === open ? i.act : i.ink },
        ...(id.startsWith('product/') && { depth: open ? 3 : 2 }),
        ...(id === 'carcass' && { label: { position: 'right', rotate: 0 } }),
      })),
      links: links.map((l) => ({ ...l, ...(isOpen(l.flow) && { lineStyle: { color: i.act, opacity: 0.5 } }) })),
    })
}
