<script setup lang="ts">
// How long each seam of a piece takes: by the atlas, in the house, and for one who cuts.
import { computed } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import PickOne from '../components/PickOne.vue'
import StateNote from '../components/StateNote.vue'
import { useAddressForm } from '../components/useAddressForm'
import { data, GET } from '../api/client'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'

const props = defineProps<{ piece: string }>()
const { mass } = useShop()
const form = useAddressForm({ cutter: '' })
const {
  data: d,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('pace', props.piece, form.cutter)),
  queryFn: () =>
    data(
      GET('/atlas/pieces/{atlas_id}/pace', {
        params: { path: { atlas_id: props.piece }, query: form.cutter ? { cutter: form.cutter } : {} },
      }),
    ),
  placeholderData: keepPreviousData,
})
const min = (m: number) => m.toFixed(1)
const total = (of: (s: NonNullable<typeof d.value>['seams'][number]) => number) =>
  min(d.value!.seams.reduce((sum, s) => sum + of(s), 0))
const basis = computed(() => {
  const { pieces, weight_g } = d.value!
  const of = say`A piece of ${mass(weight_g, 1)}. Areas from the inside of the piece, minutes of the atlas from memory.`
  return pieces
    ? say`${of} Ours from the last ${counted(pieces, 'piece')}, drawn towards the atlas while few were timed.`
    : say`${of} None of ours was timed yet.`
})
</script>

<template>
  <section v-if="error || isLoading || d?.seams.length" class="times" aria-labelledby="times" data-test="pace">
    <div class="spread head">
      <h2 id="times">How long the seams take</h2>
      <label v-if="d?.cutters.length" class="who no-print"
        >Cut by
        <PickOne v-model="form.cutter" :options="d.cutters" none="all of us" label="Who cut" />
      </label>
    </div>
    <StateNote :error="error" :loading="isLoading" what="the seams" @retry="refetch()" />
    <template v-if="d">
      <table v-wide>
        <thead>
          <tr>
            <th>Muscle, in the order it comes off</th>
            <th class="n">Seam</th>
            <th class="n">Atlas</th>
            <th class="n">Ours</th>
            <th v-if="d.cutter" class="n">{{ d.cutters.find((c) => c.id === d!.cutter)?.name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in d.seams" :key="s.part">
            <td>{{ s.name }}</td>
            <td class="n">{{ Math.round(s.cm2) }} cm²<span v-if="!s.known" class="small"> about</span></td>
            <td class="n">{{ min(s.minutes) }} min</td>
            <td class="n">
              <template v-if="s.n"
                >{{ min(s.house_minutes) }} min <span class="small">n {{ s.n }}</span></template
              ><template v-else>–</template>
            </td>
            <td v-if="d.cutter" class="n">
              {{ min(s.cutter_minutes ?? 0) }} min <span class="small">n {{ s.cutter_n }}</span>
            </td>
          </tr>
        </tbody>
        <tfoot>
          <tr class="total">
            <td>All seams</td>
            <td class="n">{{ Math.round(d.seams.reduce((sum, s) => sum + s.cm2, 0)) }} cm²</td>
            <td class="n">{{ total((s) => s.minutes) }} min</td>
            <td class="n">{{ d.pieces ? say`${total((s) => s.house_minutes)} min` : '–' }}</td>
            <td v-if="d.cutter" class="n">{{ total((s) => s.cutter_minutes ?? 0) }} min</td>
          </tr>
        </tfoot>
      </table>
      <p class="small">{{ basis }}</p>
    </template>
  </section>
</template>

<style scoped>
.times {
  margin-top: 28px;
  max-width: 860px;
}
.head {
  align-items: center;
  flex-wrap: wrap;
}
.who {
  display: inline-flex;
  align-items: center;
  gap: 10px;
}
</style>
