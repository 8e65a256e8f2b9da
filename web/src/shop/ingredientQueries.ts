// The ingredients of the shop: the question, and what a change makes stale.
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET, POST, PUT, type S } from '../api/client'

export const ingredientKeys = { all: ['ingredients'] as const }

export const useIngredients = () => useQuery({ queryKey: ingredientKeys.all, queryFn: () => data(GET('/ingredients')) })

/** Keeps an ingredient, a new one where it has no id yet. What plans cost may change with it. */
export function useSaveIngredient() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ id, draft }: { id: string; draft: S['IngredientDraft'] }) =>
      id
        ? data(PUT('/ingredients/{ingredient_id}', { params: { path: { ingredient_id: id } }, body: draft }))
        : data(POST('/ingredients', { body: draft })),
    onSuccess: async (list) => {
      queries.setQueryData(ingredientKeys.all, list)
      await queries.invalidateQueries({ queryKey: keyOf('piece') })
    },
  })
}
