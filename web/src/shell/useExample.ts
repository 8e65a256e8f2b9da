// The example shop beside the real one: made, gone to, taken away.
import { computed } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf, refresh, type Asked } from '../api/keys'
import { data, DELETE, GET, POST, PUT } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from './me'

export function useExample() {
  const queries = useQueryClient()
  const { me, may, inExample: inside } = useMe()
  const { busy, problem, attempt } = useAttempt()
  const { data: example } = useQuery({
    queryKey: keyOf('example'),
    queryFn: () => data(GET('/shops/example')),
    enabled: computed(() => may('GET /shops/example')),
    refetchInterval: (q) => (q.state.data?.state === 'making' ? 1000 : false),
  })
  const home = computed(() => me.value?.shops.find((s) => !s.example))
  const again = (key: Asked) => refresh(queries, key)
  /** In another shop nothing that was read before counts: the page begins anew. */
  const moved = () => window.location.assign('/')

  const go = (shop_id: string) =>
    attempt(async () => {
      await data(PUT('/session/shop', { body: { shop_id } }))
      moved()
    })
  const make = () =>
    attempt(async () => {
      await data(POST('/shops/example'))
      await Promise.all([again('me'), again('example')])
    })
  const remove = () =>
    attempt(async () => {
      await data(DELETE('/shops/example'))
      if (inside.value) moved()
      else await Promise.all([again('me'), again('example')])
    })
  return { example, inside, home, busy, problem, go, make, remove }
}
