// Weighings on their way to the server. An event is written here before it is sent and taken out once the server has
// confirmed it, so neither a reload, nor a dead network, nor a restarted server loses one. Ids make a second sending
// harmless.
import type { BenchDB, Waiting } from './benchDB'

let opening: Promise<BenchDB> | undefined
/** The database, fetched with the first board so that the page need not wait for it. */
const open = () =>
  (opening ??= import('./benchDB')
    .then((m) => new m.BenchDB())
    .catch((e: unknown) => {
      opening = undefined // the network may be back next time
      throw e
    }))

// A browser that keeps nothing (a private window, a full disk) still works; then a reload loses what waits.
const memory: Waiting[] = []
let memorySeq = -1

export const queue = {
  async add(w: Omit<Waiting, 'seq'>): Promise<void> {
    try {
      await (await open()).waiting.add(w as Waiting)
    } catch {
      memory.push({ ...w, seq: memorySeq-- })
    }
  },
  async of(breakdown: string): Promise<Waiting[]> {
    const kept = await open()
      .then((db) => db.waiting.where('breakdown').equals(breakdown).sortBy('seq'))
      .catch(() => [])
    return [...kept, ...memory.filter((w) => w.breakdown === breakdown)]
  },
  async change(w: Waiting): Promise<void> {
    if (w.seq > 0) await (await open()).waiting.put(w)
    else
      memory.splice(
        memory.findIndex((m) => m.seq === w.seq),
        1,
        w,
      )
  },
  async remove(seq: number): Promise<void> {
    if (seq > 0) return (await open()).waiting.delete(seq)
    memory.splice(
      memory.findIndex((w) => w.seq === seq),
      1,
    )
  },
}

export const boards = {
  async keep(breakdown: string, board: unknown): Promise<void> {
    await open()
      .then((db) => db.boards.put({ breakdown, board: JSON.parse(JSON.stringify(board)) as unknown }))
      .catch(() => undefined)
  },
  async of<T>(breakdown: string): Promise<T | undefined> {
    return (
      await open()
        .then((db) => db.boards.get(breakdown))
        .catch(() => undefined)
    )?.board as T | undefined
  },
}

let lastMs = 0
let count = 0

/** A UUID of version 7 (RFC 9562): ids made on one bench sort in the order in which they were made. */
export function newId(now = Date.now()): string {
  count = now <= lastMs ? (count + 1) & 0xfff : 0
  lastMs = Math.max(now, lastMs)
  const b = crypto.getRandomValues(new Uint8Array(16))
  for (let i = 0; i < 6; i++) b[i] = Math.floor(lastMs / 2 ** (8 * (5 - i))) & 0xff
  b[6] = 0x70 | (count >> 8)
  b[7] = count & 0xff
  b[8] = 0x80 | (b[8]! & 0x3f)
  const hex = [...b].map((x) => x.toString(16).padStart(2, '0')).join('')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`
}
