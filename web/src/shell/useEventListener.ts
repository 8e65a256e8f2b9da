import { onBeforeUnmount, onMounted } from 'vue'

/** Listens to the window as long as the component is there. */
export function useEventListener<K extends keyof WindowEventMap>(name: K, heard: (e: WindowEventMap[K]) => void) {
  onMounted(() => window.addEventListener(name, heard))
  onBeforeUnmount(() => window.removeEventListener(name, heard))
}
