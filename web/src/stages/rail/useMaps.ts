import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../../api/keys'
import { data, GET } from '../../api/client'

/** The seam map of every piece of the atlas, by its id. They change only with the program. */
export function useMaps() {
  return useQuery({
    queryKey: keyOf('atlas-maps'),
    queryFn: async () => new Map((await data(GET('/atlas/maps'))).map((m) => [m.id, m.map])),
    staleTime: Infinity,
  })
}
