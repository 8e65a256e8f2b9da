// A table or picture that is wider than its place scrolls sideways, and then the keyboard can come to it.
import type { Directive } from 'vue'

const watched = new WeakMap<HTMLElement, ResizeObserver>()

export const vWide: Directive<HTMLElement> = {
  mounted(el) {
    const see = () => {
      if (el.scrollWidth > el.clientWidth + 1) el.tabIndex = 0
      else el.removeAttribute('tabindex')
    }
    const observer = new ResizeObserver(see)
    observer.observe(el)
    if (el.firstElementChild) observer.observe(el.firstElementChild)
    watched.set(el, observer)
    see()
  },
  unmounted: (el) => watched.get(el)?.disconnect(),
}
