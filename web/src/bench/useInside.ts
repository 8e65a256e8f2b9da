// What a muscle that was opened becomes: the products its plan makes of it, then what is dressed off any muscle.
import { computed, type Ref } from 'vue'
import type { S } from '../api/client'

export interface InsideItem {
  key: string
  kind: string
  id: string
  name: string
  expected: number
  taken: number
  times: number
  count: number
}
export interface Inside {
  node: string
  part: string
  name: string
  weight: number
  output: number
  closed: boolean
  items: InsideItem[]
}

export function useInside(board: Ref<S['Board'] | undefined>, node: Ref<string>) {
  return computed<Inside | undefined>(() => {
    const b = board.value
    const row = b?.rows.find((r) => r.event_id === node.value)
    if (!b || !row) return undefined
    const children = b.rows.filter((r) => r.parent === node.value)
    const made = (b.fixed?.plan.products ?? []).filter((p) => (p.from[row.id] ?? 0) > 0)
    const item = (key: string, kind: string, id: string, name: string, expected: number): InsideItem => {
      const mine = children.filter((c) => c.id === id)
      return { key, kind, id, name, expected, taken: mine.reduce((s, c) => s + c.weight_g, 0), times: mine.length, count: mine.reduce((s, c) => s + (c.count ?? 0), 0) }
    }
    return {
      node: node.value, part: row.id, name: row.name, weight: row.weight_g, closed: row.closed === true, output: children.reduce((s, c) => s + c.weight_g, 0),
      items: [
        ...made.filter((p) => !['trim', 'sausage_trim', 'fat', 'bone'].includes(p.form)).map((p) => item(`product:${p.id}`, 'product', p.id, p.name, (row.weight_g * (p.from[row.id] ?? 0)) / 100)),
        ...(b.fixed?.dressing ?? []).map((d) => item(`${d.kind}:${d.id}`, d.kind, d.id, d.name, 0)),
      ],
    }
  })
}
