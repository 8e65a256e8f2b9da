/** The entries of a list of names as things with an id and a name. */
export const entriesOf = (o: Record<string, string>): { id: string; name: string }[] =>
  Object.entries(o).map(([id, name]) => ({ id, name }))

/** The same file in several formats, as links. */
export const filesIn = (formats: string[], address: (format: string) => string) =>
  formats.map((f) => ({ label: f.toUpperCase(), href: address(f) }))
