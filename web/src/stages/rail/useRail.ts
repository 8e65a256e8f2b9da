import { computed } from 'vue'
import { keyOf } from '../../api/keys'
import { data, GET, type S } from '../../api/client'
import { usePages } from '../../api/usePages'
import { say } from '../../words/say'

export type Card = S['PieceCard']

/** The pieces on the rail; those that wait come page by page, and so much as was asked for stays fresh. */
export function useRail() {
  const query = usePages(
    keyOf('pieces'),
    (query) => data(GET('/pieces', { params: { query } })),
    (page) => page.pieces,
    15_000,
  )
  const counts = computed<Record<string, number>>(() => {
    const n: Record<string, number> = {}
    for (const c of query.data.value ?? []) n[c.stage] = (n[c.stage] ?? 0) + 1
    return n
  })
  return { ...query, counts }
}

/** Pieces in the order of the plan of the day, where it says when; the others after those that are under way. */
export function byDay(cards: Card[]): Card[] {
  const rank = (c: Card) => (c.breakdown_id ? '0' : (c.planned_at ?? '9'))
  return [...cards].sort((a, b) => (rank(a) < rank(b) ? -1 : rank(a) > rank(b) ? 1 : 0))
}

/** Pieces of one lot, or of one batch, hang together while they wait for the same. */
export function grouped(cards: Card[]): Card[][] {
  const groups = new Map<string, Card[]>()
  for (const c of cards) {
    const key = c.batch_id
      ? say`batch ${c.batch_id}`
      : ['lot', c.lot_id, c.atlas_id, c.plan_id, c.waits_for, c.planned_bench].join(' ')
    groups.set(key, [...(groups.get(key) ?? []), c])
  }
  for (const g of groups.values()) g.sort((a, b) => a.number - b.number)
  return [...groups.values()]
}

/** Where a piece is worked on at its stage. */
export function workplace(c: Card) {
  if (c.stage === 'bench' && c.batch_id) return { name: 'batch', params: { batch: c.batch_id } }
  if (c.stage === 'plan' || !c.breakdown_id) return { name: 'plan', params: { piece: c.id } }
  return { name: c.stage, params: { breakdown: c.breakdown_id } }
}
