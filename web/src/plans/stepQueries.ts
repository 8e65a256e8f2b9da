// How plans are done: the question. Steps change only with the plan, its version and what is chosen.
import { computed, type Ref } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { data, POST } from '../api/client'

export interface StepsAsked {
  piece: string
  plan: string
  options: Record<string, string>
}

export const stepKeys = { of: (asked: StepsAsked) => ['plan-steps', asked] as const }

export const usePlanSteps = (asked: Ref<StepsAsked>) =>
  useQuery({
    queryKey: computed(() => stepKeys.of(asked.value)),
    queryFn: () =>
      data(
        POST('/plans/{atlas_id}/{plan_id}/steps', {
          params: { path: { atlas_id: asked.value.piece, plan_id: asked.value.plan } },
          body: { options: asked.value.options },
        }),
      ),
    placeholderData: keepPreviousData,
  })
