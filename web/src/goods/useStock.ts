// What lies in stock, and what becomes of it.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET, POST, PUT, type S } from '../api/client'
import { newId } from '../bench/queue'
import { useOutbox } from './useOutbox'

const key = keyOf('goods')

export const useStock = () => useQuery({ queryKey: key, queryFn: () => data(GET('/goods')) })

export function useStockBooking() {
  const queries = useQueryClient()
  const heard = (s: S['Stock']) => {
    queries.setQueryData(key, s)
    void queries.invalidateQueries({ queryKey: keyOf('goods-log') })
    void queries.invalidateQueries({ queryKey: keyOf('goods-became') })
    void queries.invalidateQueries({ queryKey: keyOf('blend') })
    void queries.invalidateQueries({ queryKey: keyOf('counter') })
  }
  const outbox = useOutbox<S['GoodsBooking'], S['Stock']>(
    'goods',
    (body) => data(POST('/goods/events', { body })),
    heard,
  )
  /** Books what becomes of a tub; gives the way to take it back. */
  async function book(b: Omit<S['GoodsBooking'], 'id' | 'at'>) {
    const id = newId()
    await outbox.book({ ...b, id, at: new Date().toISOString() })
    return () => undo(id)
  }
  const undo = async (event: string) =>
    heard(
      await data(
        PUT('/goods/events/{event_id}/undo', { params: { path: { event_id: event } }, body: { id: newId() } }),
      ),
    )
  const begin = async (day: string) => heard(await data(PUT('/goods/begin', { body: { day } })))
  const testFat = async (tub: string, lean: string, note: string) => {
    heard(await data(POST('/fat-tests', { body: { id: newId(), tub, lean_pct: lean, note } })))
    await queries.invalidateQueries({ queryKey: keyOf('fat-tests') })
  }
  return { book, undo, begin, testFat, waiting: outbox.waiting, refused: outbox.refused }
}
