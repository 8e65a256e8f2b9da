// What a muscle that was opened becomes: the products its plan makes of it, its ends, then what is dressed off any
// muscle.
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

/** The muscle that an id names, by itself or by one of its ends. */
export const muscleOf = (id: string) => id.replace(/\/.*/, '')

export function useInside(board: Ref<S['Board'] | undefined>, node: Ref<string>) {
  return computed<Inside | undefined>(() => {
    const b = board.value
    const row = b?.rows.find((r) => r.event_id === node.value)
    if (!b || !row) return undefined
    const children = b.rows.filter((r) => r.parent === node.value)
    const muscle = muscleOf(row.id)
    const whole = muscle === row.id
    const made = (b.fixed?.plan.products ?? []).filter((p) => (p.from[muscle] ?? 0) > 0)
    const item = (key: string, kind: string, id: string, name: string, expected: number): InsideItem => {
      const mine = children.filter((c) => c.id === id)
      return {
        key,
        kind,
        id,
        name,
        expected,
        taken: mine.reduce((s, c) => s + c.weight_g, 0),
        times: mine.length,
        count: mine.reduce((s, c) => s + (c.count ?? 0), 0),
      }
    }
    return {
      node: node.value,
      part: row.id,
      name: row.name,
      weight: row.weight_g,
      closed: row.closed === true,
      output: children.reduce((s, c) => s + c.weight_g, 0),
      items: [
        // of an end it is not known how much becomes which product
        ...made
          .filter((p) => !['trim', 'sausage_trim', 'fat', 'bone'].includes(p.form))
          .map((p) =>
            item(`product:${p.id}`, 'product', p.id, p.name, whole ? (row.weight_g * (p.from[muscle] ?? 0)) / 100 : 0),
          ),
        ...(whole ? (b.fixed?.words[muscle]?.ends ?? []) : []).map((e) =>
          item(`end:${e.id}`, 'end', e.id, e.name, (row.weight_g * e.share_pct) / 100),
        ),
        ...(b.fixed?.dressing ?? []).map((d) => item(`${d.kind}:${d.id}`, d.kind, d.id, d.name, 0)),
      ],
    }
  })
}
