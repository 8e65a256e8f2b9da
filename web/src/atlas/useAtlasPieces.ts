import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'

/** Every piece of the atlas, by the names of the shop's market. */
export function useAtlasPieces() {
  return useQuery({ queryKey: keyOf('atlas'), queryFn: () => data(GET('/atlas/pieces')), staleTime: 300_000 })
}
