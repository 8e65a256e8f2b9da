// The address of a product's cooking card, as this shop sells it.
import { useShop } from '../shell/shop'

export function useCardPath() {
  const { shop } = useShop()
  /** Plan is one of the shop's own; left out for what the atlas cuts. */
  const cardPath = (piece: string, product: string, plan?: string) => {
    const asked = new URLSearchParams({ ...(shop.value && { shop: shop.value.id }), ...(plan && { plan }) })
    return `/cook/${piece}/${product}${asked.size ? `?${asked}` : ''}`
  }
  return { cardPath }
}
