// The draft of a plan in steps: taken from a plan, played by the server as it stands, and taken back change by change.
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../../api/keys'
import { data, GET, POST } from '../../api/client'
import { Problem } from '../../api/problem'
import { number, newProduct, type DraftProduct } from '../draft'
import { idOf, tidy, type Draft } from './stepDraft'
import type { S } from '../../api/client'

type Product = S['DraftProduct']
const LONGEST = 100 // changes that can be taken back
const patience = 200 // ms after the last key

/** A product as its row edits it, and back. */
const rowOf = (p: Product): DraftProduct => ({
  ...newProduct(),
  ...(p.id && { id: p.id }),
  name: p.name,
  form: p.form,
  cook: p.cook ?? '',
  thickness: p.thickness_mm ? String(p.thickness_mm) : '',
  portion: p.portion_g ? String(p.portion_g) : '',
  low: p.count_low ? String(p.count_low) : '',
  high: p.count_high ? String(p.count_high) : '',
})
const productOf = (r: DraftProduct, was: Product | undefined): Product => ({
  ...was,
  ...(r.id && { id: r.id }),
  name: r.name,
  form: r.form,
  cook: r.cook,
  thickness_mm: number(r.thickness),
  portion_g: number(r.portion),
  count_low: Math.round(number(r.low)),
  count_high: Math.round(number(r.high || r.low)),
  from: {},
})

export function useStepDraft(piece: string, from: () => string, isNew: boolean) {
  const { data: taken, error } = useQuery({
    queryKey: computed(() => keyOf('plan-draft', piece, from())),
    enabled: () => from() !== '',
    queryFn: () =>
      data(GET('/plans/{atlas_id}/{plan_id}/draft', { params: { path: { atlas_id: piece, plan_id: from() } } })),
    staleTime: Infinity,
  })
  const draft = shallowRef<Draft>()
  const rows = ref<DraftProduct[]>([])
  const chosen = ref<Record<string, string>>({})
  let was = new Map<number, Product>()

  function put(d: S['PlanDraft']) {
    const own = JSON.parse(JSON.stringify(d)) as S['PlanDraft']
    draft.value = reactive({ ...own, steps: own.steps ?? [], options: own.options ?? [] } as Draft)
    rows.value = d.products.map(rowOf)
    was = new Map(rows.value.map((r, i) => [r.row, d.products[i]!]))
  }
  watch(
    taken,
    (t) => {
      if (!t || draft.value) return
      put({ ...t, ...(isNew && { name: '' }) })
      chosen.value = { ...t.chosen }
    },
    { immediate: true },
  )
  watch(
    rows,
    (list) => {
      if (!draft.value) return
      draft.value.products = list.map((r) => {
        if (!r.id)
          r.id = idOf(
            r.name,
            list.filter((x) => x !== r).map((x) => x.id ?? ''),
          )
        return productOf(r, was.get(r.row))
      })
    },
    { deep: true },
  )

  /** As it is sent: without what is nothing. */
  const body = computed<S['PlanDraft'] | undefined>(
    () =>
      draft.value && {
        ...draft.value,
        steps: draft.value.steps.map(tidy),
        products: draft.value.products.map((p) => ({ ...tidy(p), name: p.name })),
        chosen: {},
      },
  )

  // what was, change by change
  const past = ref<string[]>([])
  let last = ''
  let undoing = false
  const played = shallowRef<S['DraftSteps']>()
  let turn = 0
  let timer: ReturnType<typeof setTimeout> | undefined
  async function play() {
    const mine = ++turn
    const got = await data(
      POST('/plans/{atlas_id}/draft', {
        params: { path: { atlas_id: piece } },
        body: { ...body.value!, chosen: chosen.value },
      }),
    ).catch(() => undefined)
    if (got && mine === turn) played.value = got
  }
  watch(
    () => JSON.stringify([body.value, chosen.value]),
    () => {
      if (!body.value) return
      clearTimeout(timer)
      timer = setTimeout(() => {
        const now = JSON.stringify(body.value)
        if (last && now !== last && !undoing) past.value = [...past.value.slice(-LONGEST), last]
        undoing = false
        last = now
        void play()
      }, patience)
    },
    { immediate: true },
  )
  function undo() {
    const back = past.value.at(-1)
    if (!back) return
    past.value = past.value.slice(0, -1)
    undoing = true
    put(JSON.parse(back) as S['PlanDraft'])
  }

  /** What is wrong at a step, in words. */
  const faults = computed(() => {
    const p = new Problem(422, '', '', played.value?.faults ?? [])
    const out: Record<string, string[]> = {}
    for (const f of p.errors) {
      const id = f.field.startsWith('steps.') ? f.field.split('.')[1]! : ''
      ;(out[id] ??= []).push(p.at(f.field))
    }
    return Object.fromEntries(Object.entries(out).map(([id, list]) => [id, [...new Set(list)].join(' ')]))
  })
  return { draft, rows, chosen, body, played, faults, undo, past, error }
}
