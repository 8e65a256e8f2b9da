// What was done, with the way to take it back; and the question before what cannot be taken back.
import { layer } from './layer'
import { useConfirm } from 'primevue/useconfirm'
import { useToast } from 'primevue/usetoast'
import { say } from '../words/say'

/** What is asked before something is done that cannot be undone. */
export interface Question {
  title: string
  text: string
  /** What the button that does it says. */
  yes: string
  no?: string
}
export interface DoneMessage {
  undo?: () => unknown
}

/** How long one may take something back, in milliseconds. */
const undoFor = 10_000
const readFor = 4_000

export function useFeedback() {
  const toast = useToast()
  const confirm = useConfirm()
  /** Says that something was done, wherever on the page one is. */
  async function done(text: string, undo?: () => unknown) {
    await layer()
    toast.removeAllGroups()
    toast.add({ severity: 'secondary', summary: text, life: undo ? undoFor : readFor, ...(undo && { undo }) })
  }
  /** Asks; false where it is left, by the button, Escape or a touch beside it. */
  const ask = async (q: Question) => {
    await layer()
    return new Promise<boolean>((answer) => {
      confirm.require({
        header: q.title,
        message: q.text,
        acceptLabel: q.yes,
        rejectLabel: q.no ?? say('Cancel'),
        rejectProps: { severity: 'secondary' },
        accept: () => answer(true),
        reject: () => answer(false),
        onHide: () => answer(false),
      })
    })
  }
  return { done, ask }
}
