/** A number as people type it; −1, which every field refuses with words of its own, for what is none. */
export function typedNumber(text: string): number {
  const n = Number(text.trim().replace(',', '.').replace(/^−/, '-'))
  return text.trim() !== '' && Number.isFinite(n) ? n : -1
}
