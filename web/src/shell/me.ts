// Who looks at this screen, and what they may do: the server's table of rights, asked once.
import { computed } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, DELETE, GET, type S } from '../api/client'
import { say } from '../words/say'

export type Route = `${'GET' | 'POST' | 'PUT' | 'DELETE'} /${string}`

export function useMe() {
  const queries = useQueryClient()
  const {
    data: me,
    error,
    refetch,
  } = useQuery({ queryKey: keyOf('me'), queryFn: () => data(GET('/me')), staleTime: 30_000, refetchInterval: 60_000 })
  const may = (route: Route) => me.value?.may.includes(route) ?? false
  /** After coming in or going out: nothing that was read before counts. */
  async function changed() {
    queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'me' })
    await queries.invalidateQueries()
  }
  async function signOut() {
    await data(DELETE('/session'))
    await changed()
  }
  const onBench = computed(() => me.value?.via === 'pin')
  /** Leads the cutting: sees what others learn, signs off, and speaks for the house. */
  const leads = computed(() => may('POST /breakdowns/{breakdown_id}/practice/sign-offs'))
  const inExample = computed(() => !!me.value?.shops.find((s) => s.id === me.value?.shop_id)?.example)
  return { me, error, refetch, may, changed, signOut, onBench, inExample, leads }
}

const names: Record<string, string> = {
  owner: say('Owner'),
  head_cutter: say('Head cutter'),
  cutter: say('Cutter'),
  apprentice: say('Apprentice'),
  yield_desk: say('Yield desk'),
}

/** What a role is called; the name alone says it where a person is called by it. */
export function roleName(role: string): string {
  return names[role] ?? role
}
export const roles = Object.keys(names)

export function withRole(p: { name: string; role: string } | S['Cutter']): string {
  return p.name === roleName(p.role) ? p.name : `${p.name}, ${roleName(p.role).toLowerCase()}`
}
