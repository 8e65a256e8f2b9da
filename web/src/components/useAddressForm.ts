// What was asked on a page, kept in its address: it is there again after Back, in a bookmark, and for whom it is sent.
import { reactive, watch } from 'vue'
import { useRoute, useRouter, type LocationQueryRaw } from 'vue-router'

/** A form of texts and ticks; usual values stand in no address, and other parts of the address are left alone. */
export function useAddressForm<T extends Record<string, string | boolean>>(usual: T): T {
  const route = useRoute()
  const router = useRouter()
  const name = route.name
  const read = (): T =>
    Object.fromEntries(
      Object.entries(usual).map(([key, v]) => {
        const given = [route.query[key]].flat()[0]
        if (given === undefined || given === null) return [key, v]
        return [key, typeof v === 'boolean' ? given === '1' : given]
      }),
    ) as T
  const form = reactive(read()) as T
  watch(form, (f) => {
    const query: LocationQueryRaw = { ...route.query }
    for (const [key, v] of Object.entries(f)) {
      if (v === usual[key]) delete query[key]
      else query[key] = v === true ? '1' : v === false ? '0' : String(v)
    }
    void router.replace({ query, hash: route.hash })
  })
  watch(
    () => route.query,
    () => {
      const next = read()
      if (route.name === name && JSON.stringify(next) !== JSON.stringify(form)) Object.assign(form, next)
    },
  )
  return form
}
