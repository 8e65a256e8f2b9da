// The live weight of the bench's scale.
import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import { data, POST, type S } from '../api/client'
import { asProblem } from '../api/problem'

export type Reading = S['ScaleReading']

const gone: Reading = { status: 'disconnected', stable: false, net_g: 0, gross_g: 0, tare_g: 0, division_g: 0, unit: 'g', simulated: false, load: 0 }

export function useScale(bench: Ref<string | undefined>) {
  const reading = shallowRef<Reading>(gone)
  const message = ref('')
  let source: EventSource | undefined

  watch(bench, (id) => {
    source?.close()
    reading.value = gone
    if (!id) return
    source = new EventSource(`/api/v1/benches/${id}/scale/stream`)
    source.onmessage = (e) => {
      reading.value = JSON.parse(e.data as string) as Reading
    }
    source.onerror = () => {
      reading.value = { ...gone, simulated: reading.value.simulated, load: reading.value.load, message: 'Falda does not answer' }
    }
  }, { immediate: true })
  onScopeDispose(() => source?.close())

  async function command(c: S['ScaleCommand']) {
    if (!bench.value) return
    message.value = ''
    try {
      await data(POST('/benches/{bench_id}/scale/command', { params: { path: { bench_id: bench.value } }, body: c }))
    } catch (e) {
      message.value = asProblem(e).message
    }
  }
  return { reading, message, command }
}
