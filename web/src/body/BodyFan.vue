<script setup lang="ts">
// The inside of a piece: its slices laid in a row like sliced bread, and what lies in the one that is touched.
import { computed, ref, watch } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import PickOne from '../components/PickOne.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET } from '../api/client'
import { Problem } from '../api/problem'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { finger } from './finger'
import PortionBox from './PortionBox.vue'
import SliceContent from './SliceContent.vue'
import SliceRow from './SliceRow.vue'
import { stretch } from './useBox'

const props = defineProps<{ piece: string; muscle?: string }>()
const { mass } = useShop()
const thick = ref('30')
const choices = ['15', '20', '25', '30', '45', '60']
const called = (t: string) => {
  const n = Number(t) / finger
  return Number.isInteger(n) ? say`${t} mm, ${counted(n, 'finger')}` : say`${t} mm`
}
const {
  data: b,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('body', props.piece, thick.value)),
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
const mixed = computed(() => b.value?.slices.filter((s) => s.muscles > 2).length ?? 0)
const says = computed(() => {
  const { slices, from, to, length_mm } = b.value!
  const hold = mixed.value
    ? say`${mixed.value} of them hold three muscles or more.`
    : say('None holds more than two muscles.')
  return say`${counted(slices.length, 'slice')} from the ${from} to the ${to}, ${Math.round(length_mm)} mm. ${hold}`
})
const opened = ref(false) // the portions are asked for once somebody wants them
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
      <SliceRow v-model="at" :slices="b.slices" :parts="parts" :half="b.half" :picked="muscle" />
      <div class="lay">
        <SliceContent :slice="here" :parts="parts" :half="b.half" :among="b.slices" :picked="muscle" />
        <details class="no-print" data-test="straight-portions" @toggle="opened = true">
          <summary>Portion the whole piece, straight through</summary>
          <PortionBox v-if="opened" :piece="piece" part="piece" :weight-g="b.weight_g" :length-mm="b.length_mm" />
        </details>
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
.lay {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  gap: 12px 40px;
  align-items: start;
}
summary {
  cursor: pointer;
  min-height: 44px;
  padding-top: 12px;
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
