// A sitting: questions one after the other. What was not known at once comes again before the sitting ends.
import { computed, ref, shallowRef, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf, refresh } from '../api/keys'
import { data, GET, POST, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'

type Question = S['DrillQuestion']
export type Felt = '' | 'guessed' | 'easy'

export function useSitting(piece: string, group: string) {
  const queries = useQueryClient()
  const query = useQuery({
    queryKey: keyOf('sitting', piece, group),
    queryFn: () =>
      data(GET('/learning/sitting', { params: { query: { ...(piece && { piece }), ...(group && { group }) } } })),
    gcTime: 0,
    staleTime: Infinity, // it would begin anew while it is sat through
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
  })
  const queue = shallowRef<Question[]>([])
  const asked = ref(0)
  const known = ref(0)
  const missed = new Set<string>()
  const touched = ref<string[]>([])
  const typed = ref<number>()
  const verdict = shallowRef<S['DrillVerdict']>()
  watch(
    query.data,
    (s) => {
      queue.value = s?.questions ?? []
      asked.value = known.value = 0
      missed.clear()
      clear()
    },
    { immediate: true },
  )
  const now = computed(() => queue.value[0])
  const total = computed(() => query.data.value?.questions.length ?? 0)
  const { busy, problem, attempt } = useAttempt()
  function clear() {
    touched.value = []
    typed.value = undefined
    verdict.value = undefined
  }
  const answer = () => ({
    card: now.value!.card,
    ...(touched.value.length && { choices: touched.value }),
    ...(typed.value !== undefined && { number: typed.value }),
  })
  const check = () =>
    attempt(async () => {
      verdict.value = await data(POST('/learning/check', { body: answer() }))
    })
  /** Touches an answer: one at once, one of several, or the next thing that comes off. */
  function touch(id: string) {
    const q = now.value
    if (!q || busy.value || verdict.value?.done) return
    if (q.many) {
      touched.value = touched.value.includes(id) ? touched.value.filter((x) => x !== id) : [...touched.value, id]
      return
    }
    touched.value = q.things ? [...touched.value, id] : [id]
    void check()
  }
  const enter = (n: number) => {
    typed.value = n
    void check()
  }
  const next = (felt: Felt = '') =>
    attempt(async () => {
      const q = now.value!
      const r = await data(POST('/learning/answers', { body: { ...answer(), ...(felt && { felt }) } }))
      if (!missed.has(q.card)) {
        asked.value++
        if (verdict.value?.right) known.value++
      }
      if (r.again) missed.add(q.card)
      queue.value = r.again ? [...queue.value.slice(1), q] : queue.value.slice(1)
      clear()
      if (!queue.value.length) await refresh(queries, 'learning')
    })
  const again = () => query.refetch()
  return {
    ...query,
    now,
    total,
    queue,
    asked,
    known,
    touched,
    verdict,
    busy,
    problem,
    touch,
    enter,
    check,
    next,
    again,
  }
}
