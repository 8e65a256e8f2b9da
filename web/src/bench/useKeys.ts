// The bench's keyboard: one key for each thing, none of them a browser's own.
import { onMounted, onScopeDispose } from 'vue'

export function useKeys(keys: Record<string, () => void>, digit: (key: string) => void) {
  function onKey(e: KeyboardEvent) {
    if (e.ctrlKey || e.metaKey || e.altKey) return
    const el = e.target as HTMLElement
    if (el.closest('input, textarea, select, [role="listbox"]')) return
    if (/^[0-9.,]$/.test(e.key)) {
      digit(e.key)
      e.preventDefault()
      return
    }
    const f = keys[e.key.length === 1 ? e.key.toLowerCase() : e.key]
    if (!f) return
    if (e.key === 'Enter' && el.closest('a, button:not([data-test="plate"]):not([data-key])')) return
    e.preventDefault()
    f()
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
}
