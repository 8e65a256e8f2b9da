// Orders: what is asked of them, and what a change makes old.
import { computed } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf, refresh } from '../api/keys'
import { data, GET, POST, PUT, type S } from '../api/client'
import { usePages } from '../api/usePages'
import { newId } from '../bench/queue'
import { useOutbox } from '../goods/useOutbox'

export type Order = S['Order']

/** Those that are open. */
export const useOrders = () =>
  useQuery({ queryKey: keyOf('orders', 'open'), queryFn: () => data(GET('/orders', { params: { query: {} } })) })

/** Those that have ended, page by page. */
export const useEndedOrders = () =>
  usePages(
    keyOf('orders', 'ended'),
    ({ after }) => data(GET('/orders', { params: { query: { ended: true, ...(after && { before: after }) } } })),
    (page) => page.orders,
  )

export const useNeeds = () =>
  useQuery({ queryKey: keyOf('order-needs'), queryFn: () => data(GET('/orders/needs', { params: { query: {} } })) })

export const useOrderProducts = () =>
  useQuery({
    queryKey: keyOf('order-products'),
    queryFn: () => data(GET('/orders/products')),
    staleTime: 60_000,
  })

/** Keeps an order: a new one, or an open one that is changed. */
export const keepOrder = (draft: S['OrderDraft'], id = '') =>
  data(
    id
      ? PUT('/orders/{order_id}', { params: { path: { order_id: id } }, body: draft })
      : POST('/orders', { body: draft }),
  )

export function useOrder(order: () => string) {
  const queries = useQueryClient()
  const key = computed(() => keyOf('order', order()))
  const path = () => ({ order_id: order() })
  const query = useQuery({
    queryKey: key,
    queryFn: () => data(GET('/orders/{order_id}', { params: { path: path() } })),
  })
  const heard = (o: Order) => {
    queries.setQueryData(key.value, o)
    void refresh(queries, 'orders', 'order-needs', 'goods', 'goods-log', 'day')
  }
  const outbox = useOutbox<S['NewPacking'], Order>(
    `order-${order()}`,
    (body) => data(POST('/orders/{order_id}/packs', { params: { path: path() }, body })),
    heard,
  )
  const unpack = async (event: string) =>
    heard(
      await data(
        PUT('/orders/{order_id}/packs/{event_id}/undo', {
          params: { path: { ...path(), event_id: event } },
          body: { id: newId() },
        }),
      ),
    )
  /** Books what is packed; gives the way to take it back. */
  async function pack(p: Omit<S['NewPacking'], 'id' | 'at'>) {
    const id = newId()
    await outbox.book({ ...p, id, at: new Date().toISOString() })
    return () => unpack(id)
  }
  const turn = async (state: Order['state'], version: number) =>
    heard(await data(PUT('/orders/{order_id}/state', { params: { path: path() }, body: { state, version } })))
  const setPieces = async (pieces: string[]) =>
    heard(await data(PUT('/orders/{order_id}/pieces', { params: { path: path() }, body: { pieces } })))
  return { ...query, pack, unpack, turn, setPieces, waiting: outbox.waiting, refused: outbox.refused }
}
