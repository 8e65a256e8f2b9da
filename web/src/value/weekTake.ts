// From a week's plan to the work: the pieces that hang on the rail get the ways that the week has for their kind.
import { computed, ref, type Ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf, refresh } from '../api/keys'
import { data, GET, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { counted, say } from '../words/say'

type Card = S['PieceCard']
interface Change {
  card: Card
  plan: string
}

/**
 * Which piece gets which way: one whose way was chosen keeps it, and counts where the week has that way; the others get
 * what is left, each time the way that is furthest behind its share. Of a kind that the week does not hold none is.
 */
export function assign(cards: Card[], uses: S['WeekUse'][]): Change[] {
  const out: Change[] = []
  for (const piece of new Set(uses.map((u) => u.piece))) {
    const ways = new Map<string, { pieces: number; given: number }>()
    for (const u of uses.filter((x) => x.piece === piece)) {
      ways.set(u.plan_id, { pieces: (ways.get(u.plan_id)?.pieces ?? 0) + u.pieces, given: 0 })
    }
    const waiting = cards.filter((c) => c.atlas_id === piece && !c.breakdown_id && !c.batch_id)
    for (const c of waiting) {
      const way = ways.get(c.plan_id ?? '')
      if (way) way.given++
    }
    const behind = (w: { pieces: number; given: number }) => w.given / w.pieces
    for (const card of waiting.filter((c) => !c.plan_id)) {
      const open = [...ways].filter(([, w]) => w.given < w.pieces).sort((a, b) => behind(a[1]) - behind(b[1]))
      if (!open[0]) break
      const [plan, way] = open[0]
      way.given++
      out.push({ card, plan })
    }
  }
  return out
}

export function useWeekTake(v: Ref<S['WeekView'] | undefined>) {
  const queries = useQueryClient()
  const { done } = useFeedback()
  const { busy, problem, attempt } = useAttempt()
  const { data: rail, refetch } = useQuery({
    queryKey: keyOf('week', 'rail'),
    queryFn: () => data(GET('/pieces', { params: { query: {} } })),
  })
  const changes = computed(() => assign(rail.value?.pieces ?? [], v.value?.uses ?? []))
  const planned = ref(0)
  const set = (piece: string, plan: string, version: number) =>
    data(PUT('/pieces/{piece_id}/plan', { params: { path: { piece_id: piece } }, body: { plan_id: plan, version } }))
  const take = () =>
    attempt(async () => {
      planned.value = 0
      for (const c of changes.value) {
        await set(c.card.id, c.plan, c.card.version)
        planned.value++
      }
      done(say`${counted(planned.value, 'piece')} planned.`)
      await refetch()
      await refresh(queries, 'pieces', 'day')
    })
  return { changes, take, busy, problem, planned }
}
