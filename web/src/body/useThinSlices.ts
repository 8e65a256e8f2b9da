// The inside of a piece in thin slices, for a face at any place along it.
import { computed, type MaybeRefOrGetter, toValue } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'

const thin = 24

export function useThinSlices(piece: MaybeRefOrGetter<string>, enabled: () => boolean = () => true) {
  return useQuery({
    queryKey: computed(() => keyOf('body', toValue(piece), 'thin')),
    queryFn: () =>
      data(
        GET('/atlas/pieces/{atlas_id}/body', {
          params: { path: { atlas_id: toValue(piece) }, query: { slices: thin } },
        }),
      ),
    staleTime: Infinity,
    retry: false,
    enabled,
  })
}
