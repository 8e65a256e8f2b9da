import { useQuery } from '@tanstack/vue-query'
import { data, GET } from '../api/client'

/** Every piece of the atlas, by the names of the shop's market. */
export function useAtlasPieces() {
  return useQuery({ queryKey: ['atlas'], queryFn: () => data(GET('/atlas/pieces')), staleTime: 300_000 })
}
