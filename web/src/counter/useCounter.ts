// The counter: how large it is, what stands in it today, and the page that hangs above it.
import { computed, type Ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET, PUT, type S } from '../api/client'

const key = keyOf('counter')

export function useCounter() {
  const queries = useQueryClient()
  const query = useQuery({ queryKey: key, queryFn: () => data(GET('/counter')) })
  const heard = (v: S['CounterView']) => {
    queries.setQueryData(key, v)
    return v
  }
  const set = async (body: S['CounterRoom']) => void heard(await data(PUT('/counter', { body })))
  /** Hangs the page, or takes it down; gives its link, once. */
  const hang = async (on: boolean, version: number) =>
    heard(await data(PUT('/counter/screen', { body: { on, version } }))).link
  return { ...query, set, hang }
}

const anew = 60_000
export const useScreen = (link: () => string) =>
  useQuery({
    queryKey: computed(() => keyOf('screen', link())),
    queryFn: () => data(GET('/counter/screen/{screen_link}', { params: { path: { screen_link: link() } } })),
    refetchInterval: anew,
    retry: false,
  })

export const useInstead = (ask: Ref<{ product_key: string; method?: string } | undefined>) =>
  useQuery({
    queryKey: computed(() => keyOf('instead', ask.value)),
    queryFn: () => data(GET('/instead', { params: { query: ask.value! } })),
    enabled: computed(() => !!ask.value),
    placeholderData: (was) => was,
    retry: false,
  })
