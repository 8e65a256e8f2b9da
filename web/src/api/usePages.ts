import { computed } from 'vue'
import { useInfiniteQuery } from '@tanstack/vue-query'

/**
 * A long list that comes page by page: its rows so far as one list, whether there are more, and how to ask for them.
 * What was asked for stays fresh together.
 */
export function usePages<Page extends { next?: string }, Row>(
  key: readonly unknown[],
  ask: (query: { after?: string }) => Promise<Page>,
  rowsOf: (page: Page) => Row[],
  refetchInterval: number | false = false,
) {
  const query = useInfiniteQuery({
    queryKey: key,
    initialPageParam: '',
    queryFn: ({ pageParam: after }) => ask(after ? { after } : {}),
    getNextPageParam: (page: Page) => page.next,
    refetchInterval,
  })
  const data = computed(() => query.data.value?.pages.flatMap(rowsOf))
  return { ...query, data }
}
