// The live weight of the bench's scale.
import type { Ref } from 'vue'
import { data, POST, type S } from '../api/client'
import { useDevice } from './useDevice'

export type Reading = S['ScaleReading']

const gone: Reading = {
  status: 'disconnected',
  stable: false,
  net_g: 0,
  gross_g: 0,
  tare_g: 0,
  division_g: 0,
  unit: 'g',
  simulated: false,
  load: 0,
}

export function useScale(bench: Ref<string | undefined>) {
  const { reading, message, tell } = useDevice<Reading>(
    () => (bench.value ? `/api/v1/benches/${bench.value}/scale/stream` : ''),
    gone,
  )
  async function command(c: S['ScaleCommand']) {
    const id = bench.value
    if (id)
      await tell(() => data(POST('/benches/{bench_id}/scale/command', { params: { path: { bench_id: id } }, body: c })))
  }
  return { reading, message, command }
}
