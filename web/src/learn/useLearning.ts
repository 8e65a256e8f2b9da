// The trainer: what somebody has learned, what is asked next, and pieces that are cut to learn.
import { computed, type MaybeRefOrGetter, toValue } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf, refresh } from '../api/keys'
import { data, DELETE, fileBody, GET, POST, PUT, type S } from '../api/client'
import { say } from '../words/say'

/** What somebody has learned; oneself where nobody is named. */
export function useRecord(member: MaybeRefOrGetter<string>, enabled: () => boolean = () => true) {
  return useQuery({
    enabled,
    queryKey: computed(() => keyOf('learning', toValue(member))),
    queryFn: () => {
      const who = toValue(member)
      return data(GET('/learning', { params: { query: who ? { member: who } : {} } }))
    },
  })
}

/** Whether a piece is cut to learn, by whom, and how much the bench says. */
export function usePracticeMark(breakdown: string) {
  const queries = useQueryClient()
  const key = keyOf('practice', breakdown)
  const path = { params: { path: { breakdown_id: breakdown } } }
  const query = useQuery({
    queryKey: key,
    queryFn: () => data(GET('/breakdowns/{breakdown_id}/practice', path)),
    retry: false,
  })
  const set = async (body: S['NewPractice']) => {
    queries.setQueryData(key, await data(PUT('/breakdowns/{breakdown_id}/practice', { ...path, body })))
    await refresh(queries, 'learning')
  }
  const end = async () => {
    await data(DELETE('/breakdowns/{breakdown_id}/practice', path))
    queries.setQueryData(key, { practice: false })
    await refresh(queries, 'learning')
  }
  return { ...query, set, end }
}

/** A practice piece beside the house, and what is said of its steps. */
export function useReview(breakdown: string) {
  const queries = useQueryClient()
  const key = keyOf('practice-review', breakdown)
  const path = { params: { path: { breakdown_id: breakdown } } }
  const query = useQuery({
    queryKey: key,
    queryFn: () => data(GET('/breakdowns/{breakdown_id}/practice/review', path)),
  })
  const sign = async (body: S['NewSignOff']) => {
    queries.setQueryData(key, await data(POST('/breakdowns/{breakdown_id}/practice/sign-offs', { ...path, body })))
    await refresh(queries, 'learning')
  }
  return { ...query, sign }
}

/** What the house says of the steps of a piece. */
export const useHouseNotes = (piece: MaybeRefOrGetter<string>) =>
  useQuery({
    queryKey: computed(() => keyOf('notes', toValue(piece))),
    queryFn: () => data(GET('/notes', { params: { query: { piece: toValue(piece) } } })),
    enabled: computed(() => !!toValue(piece)),
    staleTime: 60_000,
  })

/** Notes are added, with a picture where there is one, and taken away. */
export function useNoting() {
  const queries = useQueryClient()
  const heard = () => refresh(queries, 'notes', 'practice-review')
  const add = async (body: S['NewNote'], picture?: File) => {
    const { id } = await data(POST('/notes', { body }))
    if (picture) {
      try {
        await attach(id, picture)
      } catch (e) {
        await remove(id) // its words stand in the form still
        throw e
      }
    }
    await heard()
  }
  const attach = (id: string, picture: File) =>
    data(POST('/notes/{note_id}/picture', { params: { path: { note_id: id } }, ...fileBody(picture) }))
  const remove = async (id: string) => {
    await data(DELETE('/notes/{note_id}', { params: { path: { note_id: id } } }))
    await heard()
  }
  return { add, remove }
}

export const levels = [
  { id: '1', name: say('All words, as always') },
  { id: '2', name: say('Words when asked for') },
  { id: '3', name: say('No words, cautions only') },
]
