// A plan that is written: checked while it is typed, valued as it stands, and kept when asked.
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { data, POST, PUT, type S } from '../api/client'
import { asProblem, type Problem } from '../api/problem'
import { useAttempt } from '../api/useAttempt'
import { useLeaveGuard } from '../feedback/useLeaveGuard'
import { say } from '../words/say'

interface Written {
  piece: string
  plan: string | undefined // that is changed; a new one where there is none
  based: () => string
  version: () => number
  body: () => S['PlanDraft'] | undefined // as it stands
}

const UNNAMED = say('a way of our own')
const patience = 200 // ms after the last key

export function usePlanKeep(w: Written) {
  const queries = useQueryClient()
  const router = useRouter()
  const path = { params: { path: { atlas_id: w.piece } } }
  const checked = shallowRef<S['PlanForecast']>()
  const problem = shallowRef<Problem>()
  const start = ref('')
  let turn = 0
  let timer: ReturnType<typeof setTimeout> | undefined
  async function check() {
    const body = w.body()
    if (!body) return
    const mine = ++turn
    try {
      const got = await data(
        POST('/plans/{atlas_id}/check', {
          ...path,
          body: { ...body, name: body.name.trim() || UNNAMED, ...(w.plan && { id: w.plan }) },
        }),
      )
      if (mine !== turn) return
      checked.value = got
      problem.value = undefined
    } catch (e) {
      if (mine === turn) problem.value = asProblem(e)
    }
  }
  watch(
    () => JSON.stringify(w.body()),
    (now) => {
      clearTimeout(timer)
      if (!now) return
      start.value ||= now
      timer = setTimeout(() => void check(), patience)
    },
    { immediate: true },
  )

  const tried = ref(false)
  const { busy, problem: refused, attempt } = useAttempt()
  let saved = false
  const save = () =>
    attempt(async () => {
      tried.value = true
      const body = { ...w.body()!, based_on: w.based() }
      try {
        if (w.plan)
          await data(
            PUT('/plans/{atlas_id}/{plan_id}', {
              params: { path: { atlas_id: w.piece, plan_id: w.plan } },
              body: { ...body, version: w.version() },
            }),
          )
        else await data(POST('/plans/{atlas_id}', { ...path, body }))
      } catch (e) {
        problem.value = asProblem(e)
        await nextTick(() => document.querySelector<HTMLElement>('[aria-invalid="true"]')?.focus())
        throw e
      }
      saved = true
      await queries.invalidateQueries()
      await router.push({ name: 'plans', params: { piece: w.piece } })
    })
  const changed = () => !saved && !!start.value && JSON.stringify(w.body()) !== start.value
  useLeaveGuard(changed)

  const fault = (field: string) => problem.value?.at(field) ?? ''
  /** A name is asked for only once somebody tried to keep the plan. */
  const nameFault = computed(() => (w.body()?.name || tried.value ? fault('name') : ''))
  /** Why it was not kept, in words. */
  const notKept = computed(() =>
    !refused.value
      ? ''
      : refused.value.status === 409
        ? say('Somebody else changed this plan meanwhile. Open it again; nothing of theirs is lost.')
        : say('Not kept yet: see above.'),
  )
  return { checked, problem, check, save, busy, fault, nameFault, notKept }
}
