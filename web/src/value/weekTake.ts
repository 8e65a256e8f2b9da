// From a week's plan to the work: the pieces that hang on the rail get the ways that the week has for their kind.
import { computed, ref, type Ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf, refresh } from '../api/keys'
import { data, GET, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { counted, say } from '../words/say'

type Card = S['PieceCard']
type Use = S['WeekUse']
interface Change {
  card: Card
  use: Use
}

/**
 * Which piece gets which way: one whose way was chosen keeps it, and counts where the week has that way; the others get
 * what is left, each time the way that is furthest behind its share. Anew: what is not begun changes too where the week
 * has no place for its way; what a trial drew (bound) never does. Of a kind that the week does not hold none is.
 */
export function assign(cards: Card[], uses: Use[], bound: string[], anew: boolean): Change[] {
  const out: Change[] = []
  for (const piece of new Set(uses.map((u) => u.piece))) {
    // a way goes by its name, which says what is chosen within it
    const ways = new Map<string, { use: Use; pieces: number; given: number }>()
    for (const u of uses.filter((x) => x.piece === piece)) {
      const way = ways.get(u.plan_name)
      ways.set(u.plan_name, { use: u, pieces: (way?.pieces ?? 0) + u.pieces, given: 0 })
    }
    const waiting = cards.filter((c) => c.atlas_id === piece && !c.breakdown_id && !c.batch_id)
    const keeps = new Set<Card>()
    for (const c of waiting.filter((x) => x.plan_id)) {
      const way = ways.get(c.plan_name ?? '')
      if (anew && !bound.includes(c.id) && (!way || way.given >= way.pieces)) continue
      keeps.add(c)
      if (way) way.given++
    }
    const behind = (w: { pieces: number; given: number }) => w.given / w.pieces
    for (const card of waiting.filter((c) => !keeps.has(c))) {
      const open = [...ways.values()].filter((w) => w.given < w.pieces).sort((a, b) => behind(a) - behind(b))
      if (!open[0]) break
      open[0].given++
      out.push({ card, use: open[0].use })
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
  const anew = ref(false)
  const changes = computed(() =>
    assign(rail.value?.pieces ?? [], v.value?.uses ?? [], v.value?.bound ?? [], anew.value),
  )
  const planned = ref(0)
  const set = ({ card, use }: Change) =>
    data(
      PUT('/pieces/{piece_id}/plan', {
        params: { path: { piece_id: card.id } },
        body: { plan_id: use.plan_id, version: card.version, ...(use.options && { options: use.options }) },
      }),
    )
  const take = () =>
    attempt(async () => {
      planned.value = 0
      for (const c of changes.value) {
        await set(c)
        planned.value++
      }
      done(say`${counted(planned.value, 'piece')} planned.`)
      await refetch()
      await refresh(queries, 'pieces', 'day')
    })
  return { anew, changes, take, busy, problem, planned }
}
