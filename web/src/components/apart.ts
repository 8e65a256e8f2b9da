/** Puts names that stand beside their lines far enough apart to be read; from the top down. */
export function apart<T extends { label: number }>(lines: T[], least = 14): T[] {
  const sorted = [...lines].sort((a, b) => a.label - b.label)
  sorted.forEach((l, i) => {
    if (i) l.label = Math.max(l.label, sorted[i - 1]!.label + least)
  })
  return sorted
}
