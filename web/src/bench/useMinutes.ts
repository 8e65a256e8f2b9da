// The minutes at the bench, going on while the clock runs.
import { computed, onScopeDispose, ref, watch, type Ref } from 'vue'
import type { S } from '../api/client'

export function useMinutes(board: Ref<S['Board'] | undefined>) {
  const now = ref(Date.now())
  const clock = setInterval(() => (now.value = Date.now()), 5000)
  onScopeDispose(() => clearInterval(clock))
  let loadedAt = Date.now()
  watch(board, () => (loadedAt = Date.now()))
  return computed(
    () => (board.value?.minutes ?? 0) + (board.value?.running ? Math.max(0, now.value - loadedAt) / 60_000 : 0),
  )
}
