// What is killed in a week, as it stands in the address: one kind after the other.

/** One kind of what is killed, as it is typed. */
export interface Head {
  carcass: string
  count: string
  weight: string
  killed: string
}

export const headsOf = (text: string): Head[] =>
  text
    .split('|')
    .filter(Boolean)
    .map((h) => {
      const [carcass = '', count = '', weight = '', killed = ''] = h.split('~')
      return { carcass, count, weight, killed }
    })
export const headsText = (list: Head[]) => list.map((h) => [h.carcass, h.count, h.weight, h.killed].join('~')).join('|')
