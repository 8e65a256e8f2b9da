// What is looked for on the rail, kept in the address.
import { computed, reactive, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Card } from './useRail'

const today = () => new Date().toISOString().slice(0, 10)

export function useRailFilter() {
  const route = useRoute()
  const router = useRouter()
  const text = (k: string, usual = '') => String(route.query[k] ?? usual)
  const form = reactive({ q: text('q'), kind: text('kind', 'all'), ready: text('ready') === '1' })
  watch(form, (f) => {
    void router.replace({
      query: { ...(f.q && { q: f.q }), ...(f.kind !== 'all' && { kind: f.kind }), ...(f.ready && { ready: '1' }) },
      hash: route.hash,
    })
  })
  const set = computed(() => form.q.trim() !== '' || form.kind !== 'all' || form.ready)
  function fits(c: Card) {
    if (form.kind !== 'all' && !c.atlas_id.startsWith(`${form.kind}.`)) return false
    if (form.ready && c.stage === 'plan' && c.ready_on > today()) return false
    const q = form.q.trim().toLowerCase()
    const words = [c.name, c.lot_number, c.supplier, c.plan_name, c.bench]
    return !q || words.some((w) => w?.toLowerCase().includes(q))
  }
  function clear() {
    Object.assign(form, { q: '', kind: 'all', ready: false })
  }
  return { form, set, fits, clear }
}
