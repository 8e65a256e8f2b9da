/** The values of a sentence: by number, or by name. */
export type Filling = readonly unknown[] | Record<string, unknown>

/** A sentence with its values in their places: "Lot {0} has come". A value that is not there leaves nothing. */
export function filled(sentence: string, values: Filling): string {
  const of = values as Record<string, unknown>
  return sentence.replace(/\{(\w+)\}/g, (mark, name: string) => (name in of ? String(of[name] ?? '') : mark))
}
