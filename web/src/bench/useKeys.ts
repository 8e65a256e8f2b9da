// The bench's keyboard: one key for each thing, none of them a browser's own.
import { onMounted, onScopeDispose, type Ref } from 'vue'
import type { BenchKey } from './keys'

export interface Typing {
  enter: () => void
  backspace: () => void
  escape: () => void
  digit: (key: string) => void
}

export function useKeys(keys: Ref<BenchKey[]>, typing: Typing) {
  const run = (key: string) => {
    const k = keys.value.find((x) => x.key === key)
    if (k && !k.off) k.run()
    return k !== undefined
  }
  function onKey(e: KeyboardEvent) {
    if (e.ctrlKey || e.metaKey || e.altKey) return
    const el = e.target as HTMLElement
    if (el.closest('input, textarea, select, [role="listbox"]')) return
    if (/^[0-9.,]$/.test(e.key)) {
      typing.digit(e.key)
      e.preventDefault()
      return
    }
    if (e.key === 'Enter') {
      if (el.closest('a, button:not([data-test="plate"]):not([data-key])')) return
      typing.enter()
    } else if (e.key === 'Backspace') typing.backspace()
    else if (e.key === 'Escape') typing.escape()
    else if (!run(e.key.length === 1 ? e.key.toLowerCase() : e.key)) return
    e.preventDefault()
  }
  /** A touched button does not keep the focus, so that the next Enter books a weight instead of pressing it again. */
  function onTouch(e: MouseEvent) {
    const on = document.activeElement
    if (e.detail > 0 && on instanceof HTMLButtonElement) on.blur()
    if (on instanceof HTMLInputElement && on.type === 'radio') on.blur()
  }
  onMounted(() => {
    window.addEventListener('keydown', onKey)
    window.addEventListener('click', onTouch)
  })
  onScopeDispose(() => {
    window.removeEventListener('keydown', onKey)
    window.removeEventListener('click', onTouch)
  })
  return run
}
