// Labels: what a shop's say, the numbers of its products, the printers that there are.
import { computed, type Ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET, POST, PUT, type S } from '../api/client'

export function useLabels() {
  const queries = useQueryClient()
  const key = keyOf('labels')
  const query = useQuery({ queryKey: key, queryFn: () => data(GET('/labels')) })
  const heard = (l: S['Labels']) => {
    queries.setQueryData(key, l)
    void queries.invalidateQueries({ queryKey: keyOf('label') })
  }
  const set = async (body: S['LabelSettings']) => heard(await data(PUT('/labels/settings', { body })))
  const number = async (product: string, item: string, gtin: string) =>
    heard(
      await data(
        PUT('/labels/codes/{product_key}', { params: { path: { product_key: product } }, body: { item, gtin } }),
      ),
    )
  const print = (body: S['LabelPrint']) => data(POST('/labels/print', { body }))
  return { ...query, set, number, print }
}

/** The label of a pack, drawn; nothing while it is not known what is in it. */
export const useLabel = (ask: Ref<S['LabelAsk'] | undefined>) =>
  useQuery({
    queryKey: computed(() => keyOf('label', ask.value)),
    queryFn: () => data(POST('/labels/pack', { body: ask.value! })),
    enabled: computed(() => !!ask.value),
    placeholderData: (was) => was,
    retry: false,
  })

/** What a request that fetches a file by a body is sent as. */
export const asJson = (body: unknown): RequestInit => ({
  method: 'POST',
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
})
