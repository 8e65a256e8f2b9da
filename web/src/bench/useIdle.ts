// When nobody has touched a bench for a while its clock stops, as of the last touch. Only a screen that books on the
// board does that, and what others book counts as a touch: who looks on from a desk stops nobody's clock.
import { onMounted, onScopeDispose, watch, type Ref } from 'vue'
import { useShop } from '../shell/shop'

export function useIdle(runs: () => boolean, booked: Ref<number>, stop: (since: Date) => void) {
  const { shop } = useShop()
  let last = Date.now()
  const touch = () => (last = Date.now())
  watch(booked, touch)
  const timer = setInterval(() => {
    const limit = (shop.value?.idle_minutes ?? 0) * 60_000
    if (limit > 0 && runs() && Date.now() - last > limit) {
      stop(new Date(last))
      touch()
    }
  }, 5_000)
  const events = ['keydown', 'pointerdown'] as const
  onMounted(() => events.forEach((e) => window.addEventListener(e, touch)))
  onScopeDispose(() => {
    clearInterval(timer)
    events.forEach((e) => window.removeEventListener(e, touch))
  })
}
