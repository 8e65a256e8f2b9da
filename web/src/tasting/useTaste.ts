// An eater's marks: kept on the phone at once, sent when there is a network, in any order; a mark that was corrected is
// sent again.
import { computed, onScopeDispose, reactive, ref, shallowRef } from 'vue'
import { data, GET, PUT, type S } from '../api/client'
import { asProblem, isFinal, type Problem } from '../api/problem'

interface Kept {
  place: S['Place']
  marks: Record<string, S['Ratings']>
  waits: string[]
}

export function useTaste(link: string) {
  const key = `falda.taste.${link}`
  const place = shallowRef<S['Place']>()
  const marks = reactive<Record<string, S['Ratings']>>({})
  const waits = reactive(new Set<string>())
  const fault = shallowRef<Problem>()
  const away = ref(false)
  let timer: ReturnType<typeof setTimeout> | undefined
  let alive = true

  function remember() {
    try {
      if (place.value)
        localStorage.setItem(key, JSON.stringify({ place: place.value, marks, waits: [...waits] } satisfies Kept))
    } catch {
      /* a phone that keeps nothing still sends */
    }
  }
  function recall() {
    try {
      const kept = JSON.parse(localStorage.getItem(key) ?? 'null') as Kept | null
      if (!kept?.place) return
      place.value = kept.place
      Object.assign(marks, kept.marks)
      kept.waits.forEach((c) => waits.add(c))
    } catch {
      /* as if there were nothing */
    }
  }
  async function load() {
    try {
      const p = await data(GET('/taste/{link}', { params: { path: { link } } }))
      place.value = p
      for (const s of p.samples) if (!waits.has(s.code)) marks[s.code] = { ...s.ratings }
      fault.value = undefined
      away.value = false
      remember()
    } catch (e) {
      if (isFinal(e) || !place.value) fault.value = asProblem(e)
      if (!isFinal(e)) later()
    }
  }
  function later() {
    away.value = true
    clearTimeout(timer)
    if (alive) timer = setTimeout(() => void send(), 2000)
  }
  let sending = false
  async function send() {
    if (sending) return
    sending = true
    try {
      if (!place.value) await load()
      for (const code of [...waits]) {
        const sent = JSON.stringify(marks[code])
        try {
          await data(PUT('/taste/{link}/{code}', { params: { path: { link, code } }, body: marks[code] ?? {} }))
          if (JSON.stringify(marks[code]) === sent) waits.delete(code)
          away.value = false
        } catch (e) {
          if (!isFinal(e)) return later()
          fault.value = asProblem(e)
          waits.delete(code)
        }
      }
      remember()
    } finally {
      sending = false
    }
    if (waits.size && !away.value) later()
  }
  function mark(code: string, attribute: keyof S['Ratings'], value: number | null) {
    marks[code] = { ...marks[code], [attribute]: value }
    waits.add(code)
    remember()
    clearTimeout(timer)
    timer = setTimeout(() => void send(), 400)
  }
  recall()
  void load().then(() => (waits.size ? send() : undefined))
  const online = () => void send()
  window.addEventListener('online', online)
  onScopeDispose(() => {
    alive = false
    clearTimeout(timer)
    window.removeEventListener('online', online)
  })
  return { place, marks, waiting: computed(() => waits.size), fault, away, mark, load }
}
