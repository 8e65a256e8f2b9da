// What was changed on a form and not saved is not lost without a word: leaving asks, and so does closing the page.
import { onBeforeRouteLeave } from 'vue-router'
import { useEventListener } from '../shell/useEventListener'
import { useFeedback } from './useFeedback'
import { say } from '../words/say'

export function useLeaveGuard(changed: () => boolean) {
  const { ask } = useFeedback()
  onBeforeRouteLeave(
    async () =>
      !changed() ||
      (await ask({
        title: say('Leave without saving?'),
        text: say('What was changed on this page is lost.'),
        yes: say('Leave without saving'),
        no: say('Stay here'),
      })),
  )
  useEventListener('beforeunload', (e) => {
    if (changed()) e.preventDefault()
  })
}
