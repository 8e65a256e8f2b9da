import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'

/** The price of every product, and the markets of the shop. */
export function useBook() {
  const { data: prices } = useQuery({ queryKey: keyOf('prices'), queryFn: () => data(GET('/prices')) })
  const { data: markets } = useQuery({ queryKey: keyOf('markets'), queryFn: () => data(GET('/markets')) })
  return { prices, markets }
}
