// Asks the server what the typed arrival would cost and bring, as soon as it can be known.
import { ref, shallowRef, watch, type Ref } from 'vue'
import { data, POST, type S } from '../../api/client'
import { asProblem, type Problem } from '../../api/problem'

export function useForecast(request: Ref<S['ForecastRequest'] | undefined>) {
  const forecast = shallowRef<S['Forecast']>()
  const problem = shallowRef<Problem>()
  const asking = ref(false)
  let latest = 0
  let timer: ReturnType<typeof setTimeout> | undefined

  async function ask(r: S['ForecastRequest'], turn: number) {
    asking.value = true
    try {
      const f = await data(POST('/forecast', { body: r }))
      if (turn !== latest) return
      forecast.value = f
      problem.value = undefined
    } catch (e) {
      if (turn !== latest) return
      problem.value = asProblem(e)
      forecast.value = undefined
    } finally {
      if (turn === latest) asking.value = false
    }
  }

  watch(
    () => JSON.stringify(request.value),
    () => {
      clearTimeout(timer)
      const turn = ++latest
      const r = request.value
      if (!r) {
        forecast.value = undefined
        problem.value = undefined
        return
      }
      timer = setTimeout(() => void ask(r, turn), 150)
    },
    { immediate: true },
  )
  return { forecast, problem, asking }
}
