// The ways of cutting a piece: the atlas' own and the shop's.
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'

export function usePlans(piece: MaybeRefOrGetter<string | undefined>) {
  return useQuery({
    queryKey: computed(() => keyOf('plans', toValue(piece))),
    enabled: () => !!toValue(piece),
    queryFn: () => data(GET('/plans/{atlas_id}', { params: { path: { atlas_id: toValue(piece)! } } })),
  })
}
