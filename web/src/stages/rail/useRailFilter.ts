// What is looked for on the rail, kept in the address.
import { computed } from 'vue'
import { useAddressForm } from '../../components/useAddressForm'
import type { Card } from './useRail'

const today = () => new Date().toISOString().slice(0, 10)

const usual = { q: '', kind: 'all', ready: false }

export function useRailFilter() {
  const form = useAddressForm(usual)
  const set = computed(() => form.q.trim() !== '' || form.kind !== 'all' || form.ready)
  function fits(c: Card) {
    if (form.kind !== 'all' && !c.atlas_id.startsWith(`${form.kind}.`)) return false
    if (form.ready && c.stage === 'plan' && c.ready_on > today()) return false
    const q = form.q.trim().toLowerCase()
    const words = [c.name, c.lot_number, c.supplier, c.plan_name, c.bench]
    return !q || words.some((w) => w?.toLowerCase().includes(q))
  }
  const clear = () => Object.assign(form, usual)
  return { form, set, fits, clear }
}
