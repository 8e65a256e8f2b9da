// Where other devices find the program: where the shop says they do, else where this browser found it.
import { computed } from 'vue'
import { useShop } from './shop'

export function useOutside() {
  const { shop } = useShop()
  const address = computed(() => shop.value?.address || window.location.origin)
  /** The address names the machine that reads it, and leads no phone here. */
  const onlyHere = computed(() => /^(localhost|127\.|\[::1\])/.test(new URL(address.value).host))
  return { address, onlyHere }
}
