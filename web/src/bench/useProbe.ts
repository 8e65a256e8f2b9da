// What the bench's thermometer shows.
import { data, POST, type S } from '../api/client'
import { useDevice } from './useDevice'

export function useProbe(bench: string) {
  const gone: S['ProbeReading'] = { status: 'disconnected', steady: false, c: 0, simulated: false }
  const device = useDevice(`/api/v1/benches/${bench}/probe/stream`, gone)
  const put = (c: number) =>
    device.tell(() =>
      data(POST('/benches/{bench_id}/probe/command', { params: { path: { bench_id: bench } }, body: { c } })),
    )
  return { ...device, put }
}
