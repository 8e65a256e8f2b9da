// What the shop calls its products, beside their lawful names.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'

export function useMenuNames() {
  const { data: prices } = useQuery({ queryKey: keyOf('prices'), queryFn: () => data(GET('/prices')) })
  const names = computed(() => new Map((prices.value ?? []).map((p) => [p.key, p.menu_name ?? ''])))
  return { menuName: (key: string | undefined) => (key ? (names.value.get(key) ?? '') : '') }
}
