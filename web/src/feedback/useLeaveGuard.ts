// What was changed on a form and not saved is not lost without a word: leaving asks, and so does closing the page.
import { onBeforeRouteLeave } from 'vue-router'
import { useEventListener } from '../shell/useEventListener'
import { useFeedback } from './useFeedback'

export function useLeaveGuard(changed: () => boolean) {
  const { ask } = useFeedback()
  onBeforeRouteLeave(
    async () =>
      !changed() ||
      (await ask({
        title: 'Leave without saving?',
        text: 'What was changed on this page is lost.',
        yes: 'Leave without saving',
        no: 'Stay here',
      })),
  )
  useEventListener('beforeunload', (e) => {
    if (changed()) e.preventDefault()
  })
}
