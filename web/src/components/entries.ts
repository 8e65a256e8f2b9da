/** The entries of a list of names as things with an id and a name. */
export const entriesOf = (o: Record<string, string>): { id: string; name: string }[] =>
  Object.entries(o).map(([id, name]) => ({ id, name }))
