// What the page is called: in the browser's tab, in its history, and in the line above the page.
import { onScopeDispose, ref, toValue, watch, type MaybeRefOrGetter } from 'vue'

/** What the open view shows in particular, such as "clod SK-2647-05"; empty where its name says it all. */
export const shown = ref('')

/** Names what a view shows in particular, as long as it is open. */
export function useTitle(what: MaybeRefOrGetter<string | undefined>) {
  watch(
    () => toValue(what) ?? '',
    (w) => (shown.value = w),
    { immediate: true },
  )
  onScopeDispose(() => (shown.value = ''))
}

/** The title of a page: what it is, of what, and the program. */
export function titleOf(page: string | undefined, of: string): string {
  return [page, of, 'Falda'].filter(Boolean).join(' · ')
}
