<script setup lang="ts">
// The inside of a piece: its slices laid in a row like sliced bread, and what lies in the one that is touched.
import { computed, ref, watch } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import PickOne from '../components/PickOne.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET } from '../api/client'
import { Problem } from '../api/problem'
import { useShop } from '../shell/shop'
import { counted } from '../words/counted'
import { percent } from '../words/shown'
import { finger } from './finger'
import SectionPicture from './SectionPicture.vue'

const props = defineProps<{ piece: string; muscle?: string }>()
const { mass } = useShop()
const thick = ref('30')
const choices = ['15', '20', '25', '30', '45', '60']
const called = (t: string) => {
  const n = Number(t) / finger
  return Number.isInteger(n) ? `${t} mm, ${counted(n, 'finger')}` : `${t} mm`
}
const {
  data: b,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => ['body', props.piece, thick.value]),
  queryFn: () =>
    data(
      GET('/atlas/pieces/{atlas_id}/body', {
        params: { path: { atlas_id: props.piece }, query: { thick_mm: Number(thick.value) } },
      }),
    ),
  placeholderData: keepPreviousData,
  staleTime: Infinity,
  retry: false,
})
/** Nothing is known of the inside of some pieces; then there is nothing to show. */
const none = computed(() => error.value instanceof Problem && error.value.status === 409)
const parts = computed(() => new Map(b.value?.parts.map((p) => [p.id, p]) ?? []))
const name = (id: string) => parts.value.get(id)?.name ?? id
const at = ref(0)
watch(
  () => b.value?.slices.length,
  (n) => (at.value = Math.min(at.value, (n ?? 1) - 1)),
)
const here = computed(() => b.value?.slices[at.value])
/** Within which box in mm all sections lie, y upward, both halves together. */
const box = computed(() => {
  const points = b.value!.slices.flatMap((s) => s.outline)
  const xs = points.map((p) => p[0]!)
  const ys = points.map((p) => p[1]!)
  const half = Math.max(Math.max(...xs), -Math.min(...xs)) * (b.value!.half ? 2 : 1)
  return { wide: 2 * half, low: Math.min(...ys), high: Math.max(...ys) }
})
const mixed = computed(() => b.value?.slices.filter((s) => s.muscles > 2).length ?? 0)
const says = computed(() => {
  const { slices, from, to, length_mm } = b.value!
  const hold = mixed.value ? `${mixed.value} of them hold three muscles or more.` : 'None holds more than two muscles.'
  return `${counted(slices.length, 'slice')} from the ${from} to the ${to}, ${Math.round(length_mm)} mm. ${hold}`
})
const stretch = (s: { from_mm: number; to_mm: number }) => `${Math.round(s.from_mm)}–${Math.round(s.to_mm)} mm`
const seams = computed(() =>
  [...(b.value?.seams ?? [])]
    .filter((s) => [s.a, s.b].every((x) => parts.value.get(x)?.kind === 'muscle'))
    .sort((x, y) => y.cm2 - x.cm2),
)
</script>

<template>
  <section v-if="!none" class="fan" aria-labelledby="inside" data-test="fan">
    <div class="spread head">
      <h2 id="inside">Inside, slice by slice</h2>
      <label class="thick no-print"
        >Slices of
        <PickOne id="thick" v-model="thick" :options="choices" :called="called" />
      </label>
    </div>
    <StateNote :error="error" :loading="isLoading" what="the inside" @retry="refetch()" />
    <template v-if="b && here">
      <p>{{ says }}</p>
      <p class="small">{{ b.lies }}. A piece of {{ mass(b.weight_g, 1) }}; {{ b.basis }}, nothing of it is measured.</p>
      <div class="row-of">
        <button
          v-for="(s, i) in b.slices"
          :key="s.from_mm"
          type="button"
          class="slice"
          :class="{ on: i === at }"
          :aria-pressed="i === at"
          :aria-label="`${stretch(s)}, ${mass(s.g, 2)}, ${counted(s.muscles, 'muscle')}`"
          @click="at = i"
        >
          <SectionPicture :slice="s" :parts="parts" :half="b.half" :box="box" :picked="muscle" />
          <span class="small">{{ stretch(s) }}</span>
          <span class="small">{{ mass(s.g, 2) }}</span>
        </button>
      </div>
      <div class="lay">
        <div>
          <SectionPicture class="large" :slice="here" :parts="parts" :half="b.half" :box="box" :picked="muscle" />
          <h3>{{ stretch(here) }}: {{ mass(here.g, 3) }}</h3>
          <table v-wide>
            <tbody>
              <tr v-for="p in [...here.parts].sort((x, y) => y.g - x.g)" :key="p.part">
                <td>{{ name(p.part) }}</td>
                <td class="n">{{ mass(p.g, 3) }}</td>
                <td class="n">{{ percent(p.pct) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <div v-if="seams.length">
          <h3>Seams between muscles</h3>
          <table v-wide>
            <tbody>
              <tr v-for="s in seams" :key="s.a + s.b">
                <td>{{ name(s.a) }} – {{ name(s.b) }}</td>
                <td class="n">{{ Math.round(s.cm2) }} cm²</td>
                <td class="n">{{ stretch(s) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <div v-if="b.facts.length">
          <h3>What is known of it</h3>
          <ul>
            <li v-for="f in b.facts" :key="f.text">
              {{ f.text }}. <span class="small">{{ f.basis }}</span>
            </li>
          </ul>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.fan {
  margin-top: 28px;
}
.head {
  align-items: center;
  flex-wrap: wrap;
}
.thick {
  display: inline-flex;
  align-items: center;
  gap: 10px;
}
.row-of {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(168px, 1fr));
  gap: 6px;
  margin: 12px 0 18px;
}
.slice {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 2px;
  padding: 6px;
  border: 1px solid transparent;
  border-radius: 2px;
  background: none;
  color: var(--ink);
  cursor: pointer;
}
.slice.on {
  border-color: var(--ink);
  background: var(--surface);
}
.lay {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  gap: 12px 40px;
  align-items: start;
}
.large {
  max-width: 460px;
}
h3 {
  font-size: 16px;
  margin: 8px 0;
}
ul {
  margin: 0;
  padding-left: 18px;
}
</style>
