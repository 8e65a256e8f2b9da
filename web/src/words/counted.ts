/** A number with its noun: "1 piece", "3 pieces"; the plural where it is not the noun with an s. */
export function counted(n: number, one: string, many = `${one}s`): string {
  return `${n} ${n === 1 ? one : many}`
}
