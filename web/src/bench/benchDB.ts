// What a bench keeps in the browser: weighings that wait, and boards as they were last seen.
import Dexie, { type EntityTable } from 'dexie'
import type { S } from '../api/client'

export interface Waiting {
  seq: number
  breakdown: string // or batch
  event: S['BenchEvent']
  /** Of a batch: the pieces that it is booked on. */
  entries?: S['BatchEntry'][]
}

/** A board as it was last seen, for a page that opens without a network. */
interface KeptBoard {
  breakdown: string // or batch
  board: unknown
}

export class BenchDB extends Dexie {
  waiting!: EntityTable<Waiting, 'seq'>
  boards!: EntityTable<KeptBoard, 'breakdown'>
  constructor() {
    super('falda-bench')
    this.version(1).stores({ waiting: '++seq, breakdown' })
    this.version(2).stores({ waiting: '++seq, breakdown', boards: 'breakdown' })
  }
}
