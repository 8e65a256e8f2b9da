// Sales: what sells, files of tills, trials of names, and what of it becomes demand.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf, pricedBy, refresh } from '../api/keys'
import { data, GET, POST, PUT, type S } from '../api/client'

const key = keyOf('sales')

export function useSales() {
  const queries = useQueryClient()
  const query = useQuery({ queryKey: key, queryFn: () => data(GET('/sales')) })
  const heard = (s: S['Sales']) => {
    queries.setQueryData(key, s)
    void refresh(queries, 'goods', 'goods-log', 'goods-became', 'markdowns', 'counter', 'desk')
  }
  const undo = async (file: string) =>
    heard(await data(PUT('/sales/files/{file_id}/undone', { params: { path: { file_id: file } } })))
  const set = async (body: S['SaleSettings']) => heard(await data(PUT('/sales/settings', { body })))
  const begin = async (body: S['NewNaming']) => {
    heard(await data(POST('/sales/trials', { body })))
    void refresh(queries, 'label')
  }
  const stop = async (trial: string) => {
    heard(await data(PUT('/sales/trials/{naming_id}/stopped', { params: { path: { naming_id: trial } } })))
    void refresh(queries, 'label')
  }
  const means = (said: string, product: string) =>
    data(PUT('/sales/names', { body: { said, ...(product && { product_key: product }) } }))
  const fresh = () => refresh(queries, 'sales')
  /** Makes what a product sells in a week its demand in the price book: for the season, or the whole year. */
  const asDemand = async (body: S['NewDemand']) => {
    await data(PUT('/demands', { body }))
    await refresh(queries, 'demands', 'carcass-value', ...pricedBy)
  }
  return { ...query, undo, set, begin, stop, means, fresh, asDemand }
}

export const useDemands = () => useQuery({ queryKey: keyOf('demands'), queryFn: () => data(GET('/demands')) })
