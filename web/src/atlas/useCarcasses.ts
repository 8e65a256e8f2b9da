// The carcasses of the atlas, fetched once.
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'

export function useCarcasses() {
  return useQuery({ queryKey: keyOf('carcasses'), queryFn: () => data(GET('/atlas/carcasses')), staleTime: 300_000 })
}
