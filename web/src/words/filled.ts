/** The values of a sentence: by number, or by name. */
export type Filling = readonly unknown[] | Record<string, unknown>

/** Sentences in another language; undefined for one that it has not. */
export interface Dictionary {
  sentence(key: string, values: Filling): string | undefined
  counted(key: string, n: number): string | undefined
}

/** A sentence with its values in their places: "Lot {0} has come". A value that is not there leaves nothing. */
export function filled(sentence: string, values: Filling): string {
  const of = values as Record<string, unknown>
  return sentence.replace(/\{(\w+)\}/g, (mark, name: string) => (name in of ? String(of[name] ?? '') : mark))
}
