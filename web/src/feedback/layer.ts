// What says what was done is fetched when it is first needed, or once the page stands; who speaks before waits for it.
import { ref } from 'vue'

/** The layer is to be on the page. */
export const layerWanted = ref(false)
const soon = 5000 // milliseconds; by then also a slow line has brought the page itself
setTimeout(() => (layerWanted.value = true), soon)

let mounted: () => void
const stands = new Promise<void>((done) => (mounted = done))
/** The layer calls this once it can be spoken through. */
export const layerMounted = () => mounted()

/** Waits until the layer can be spoken through. */
export function layer(): Promise<void> {
  layerWanted.value = true
  return stands
}
