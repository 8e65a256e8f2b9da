// Batches of what the shop makes.
import { computed } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, DELETE, GET, POST, PUT, type S } from '../api/client'
import { newId } from '../bench/queue'
import { useOutbox } from '../goods/useOutbox'

export const useMakings = () =>
  useQuery({ queryKey: keyOf('makings'), queryFn: () => data(GET('/makings', { params: { query: {} } })) })

export const useRecipes = () => useQuery({ queryKey: keyOf('recipes'), queryFn: () => data(GET('/recipes')) })

/** Begins a batch; gives its id. */
export async function beginMaking(recipe: string, plan: Record<string, string> = {}) {
  const id = newId()
  await data(POST('/makings', { body: { id, recipe, plan } }))
  return id
}

export function useMaking(making: () => string) {
  const queries = useQueryClient()
  const key = computed(() => keyOf('making', making()))
  const query = useQuery({
    queryKey: key,
    queryFn: () => data(GET('/makings/{making_id}', { params: { path: { making_id: making() } } })),
  })
  const heard = (m: S['Making']) => {
    queries.setQueryData(key.value, m)
    void queries.invalidateQueries({ queryKey: keyOf('goods') })
    void queries.invalidateQueries({ queryKey: keyOf('blend') })
    void queries.invalidateQueries({ queryKey: keyOf('makings') })
    void queries.invalidateQueries({ queryKey: keyOf('origin', making()) })
  }
  const path = () => ({ making_id: making() })
  const outbox = useOutbox<S['MakingWeighing'], S['Making']>(
    `making-${making()}`,
    (body) => data(POST('/makings/{making_id}/events', { params: { path: path() }, body })),
    heard,
  )
  const undo = async (event: string) =>
    heard(
      await data(
        PUT('/makings/{making_id}/events/{event_id}/undo', {
          params: { path: { ...path(), event_id: event } },
          body: { id: newId() },
        }),
      ),
    )
  async function weigh(w: Omit<S['MakingWeighing'], 'id' | 'at'>) {
    const id = newId()
    await outbox.book({ ...w, id, at: new Date().toISOString() })
    return () => undo(id)
  }
  const close = async (reason: string) =>
    heard(await data(PUT('/makings/{making_id}/close', { params: { path: path() }, body: { reason } })))
  const reopen = async () => heard(await data(PUT('/makings/{making_id}/reopen', { params: { path: path() } })))
  async function drop() {
    await data(DELETE('/makings/{making_id}', { params: { path: path() } }))
    await queries.invalidateQueries({ queryKey: keyOf('makings') })
  }
  return { ...query, weigh, undo, close, reopen, drop, waiting: outbox.waiting, refused: outbox.refused }
}
