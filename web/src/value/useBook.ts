import { useQuery } from '@tanstack/vue-query'
import { data, GET } from '../api/client'

/** The price of every product, and the markets of the shop. */
export function useBook() {
  const { data: prices } = useQuery({ queryKey: ['prices'], queryFn: () => data(GET('/prices')) })
  const { data: markets } = useQuery({ queryKey: ['markets'], queryFn: () => data(GET('/markets')) })
  return { prices, markets }
}
