// The day: what is asked of it, and laying it out.
import { computed, type Ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf, refresh } from '../api/keys'
import { data, DELETE, GET, PUT, type S } from '../api/client'

export type Day = S['DayView']
export type Slot = S['DaySlot']

/** How often a day is asked for while it is looked at, in milliseconds. */
const fresh = 20_000

export function useDay(day: Ref<string>) {
  const queries = useQueryClient()
  const key = computed(() => keyOf('day', day.value))
  const query = useQuery({
    queryKey: key,
    queryFn: () => data(GET('/day', { params: { query: day.value ? { day: day.value } : {} } })),
    refetchInterval: fresh,
    placeholderData: (was) => was,
  })
  async function plan(ask: S['DayAsk']) {
    queries.setQueryData(key.value, await data(PUT('/day', { body: ask })))
    await refresh(queries, 'pieces')
  }
  async function drop(of: string, version: number) {
    await data(DELETE('/day', { params: { query: { day: of, version } } }))
    await refresh(queries, 'day', 'pieces')
  }
  return { ...query, plan, drop }
}
