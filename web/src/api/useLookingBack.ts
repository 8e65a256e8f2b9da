import { computed, watch, type Ref } from 'vue'

/** Pages of a list that is searched stretch by stretch, as useInfiniteQuery gives them. */
interface Pages<P> {
  data: Ref<{ pages: P[] } | undefined>
  hasNextPage: Ref<boolean>
  isFetchingNextPage: Ref<boolean>
  fetchNextPage: () => unknown
}

/** As many rows as fill a screen: so many are looked for without being asked again. */
const enough = 20

/**
 * Goes on looking by itself while a search has found less than fills a screen and there is more to look through. It
 * gives how far back was looked while it looks, for the screen to say.
 */
export function useLookingBack<P>(pages: Pages<P>, found: () => number, searchedTo: (page: P) => string | undefined) {
  const looking = computed(() => pages.hasNextPage.value && found() < enough)
  watch(
    [() => pages.data.value, looking, pages.isFetchingNextPage],
    () => {
      if (looking.value && !pages.isFetchingNextPage.value) void pages.fetchNextPage()
    },
    { immediate: true },
  )
  const last = computed(() => pages.data.value?.pages.at(-1))
  return { searchedTo: computed(() => (looking.value && last.value ? searchedTo(last.value) : undefined)) }
}
