// A piece of the atlas, fetched once.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from './keys'
import { data, GET } from './client'

export function useAtlasPiece(id: () => string | undefined) {
  return useQuery({
    queryKey: computed(() => keyOf('atlas', id())),
    enabled: computed(() => !!id()),
    staleTime: Infinity,
    queryFn: () => data(GET('/atlas/pieces/{atlas_id}', { params: { path: { atlas_id: id()! } } })),
  })
}
