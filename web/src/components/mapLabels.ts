// Which words fit into an area of a map: its name, smaller, or its code; never across a line.
import { shortName } from '../words/shown'
import type { S } from '../api/client'

interface Point {
  x: number
  y: number
}
export interface Label {
  lines: string[]
  size: number // of the words, in units of the map
  code: boolean // the code stands for the name
}

const widthOfLetter = 0.5 // of the size, in the condensed cut of the typeface
export const lineHeight = 1.15 // of the size

/** Whether a point lies in a polygon, which may have dents. */
export function within(polygon: Point[], at: Point): boolean {
  let inside = false
  polygon.forEach((a, i) => {
    const b = polygon[(i + 1) % polygon.length]!
    if (a.y > at.y !== b.y > at.y && at.x < a.x + ((at.y - a.y) / (b.y - a.y)) * (b.x - a.x)) inside = !inside
  })
  return inside
}

/** Whether a box about a point lies in a polygon: its corners and the middles of its edges do. */
function holds(polygon: Point[], at: Point, width: number, height: number): boolean {
  const [w, h] = [width / 2, height / 2]
  return [-w, 0, w].every((x) => [-h, 0, h].every((y) => within(polygon, { x: at.x + x, y: at.y + y })))
}

/** A name broken into lines of about so many letters. */
function broken(name: string, letters: number): string[] {
  const lines: string[] = []
  for (const word of shortName(name).replace(/,.*/, '').split(' ')) {
    const last = lines[lines.length - 1]
    if (last !== undefined && `${last} ${word}`.length <= letters) lines[lines.length - 1] = `${last} ${word}`
    else lines.push(word)
  }
  return lines
}

/** What is written into an area: the most that fits, down to nothing; no words are smaller than the least size. */
export function label(
  a: S['MapArea'],
  words: { name: string; code: string; line?: string },
  size: number,
  least: number,
): Label {
  const { name, code, line } = words
  const sizes = [1, 0.84, 0.7].map((s) => Math.max(size * s, least))
  const fits = (lines: string[], s: number) =>
    holds(
      a.polygon,
      a.centre,
      Math.max(...lines.map((l) => l.length)) * s * widthOfLetter,
      lines.length * s * lineHeight,
    )
  const named = (more: string[]): Label | undefined => {
    for (const s of sizes.slice(0, 2))
      for (const letters of [16, 12, 7]) {
        const lines = [...broken(name, letters), ...more]
        if (fits(lines, s)) return { lines, size: s, code: false }
      }
  }
  const coded = (more: string[]): Label | undefined => {
    for (const s of sizes) if (fits([code, ...more], s)) return { lines: [code, ...more], size: s, code: true }
  }
  for (const more of line ? [[line], []] : [[]]) {
    const found = named(more) ?? coded(more)
    if (found) return found
  }
  return { lines: [], size, code: true }
}

/** The letters with which the words of a name begin, three at most. */
export function initials(name: string): string {
  const words = name
    .replace(/[,(].*/, '')
    .trim()
    .split(/\s+/)
  const letters = words.slice(0, 3).map((w) => w.charAt(0).toUpperCase())
  return letters.length === 1 ? letters[0]! + words[0]!.slice(1, 2).toLowerCase() : letters.join('')
}
