<script setup lang="ts">
// What a way of cutting straight through gives: its slices in a row, which of them hold a hard line, where to stop.
import { computed, ref, watch } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import StateNote from '../components/StateNote.vue'
import { data, GET, type S } from '../api/client'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { gradeName } from '../grades/grades'
import SliceContent from './SliceContent.vue'
import SliceRow from './SliceRow.vue'

const props = defineProps<{ piece: string; plan: string; breakdown?: string }>()
const { mass } = useShop()
const {
  data: d,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('straight', props.piece, props.plan, props.breakdown)),
  queryFn: () =>
    data(
      GET('/atlas/pieces/{atlas_id}/straight', {
        params: {
          path: { atlas_id: props.piece },
          query: { plan_id: props.plan, ...(props.breakdown && { breakdown_id: props.breakdown }) },
        },
      }),
    ),
  placeholderData: keepPreviousData,
  retry: false,
})
const parts = computed(() => new Map(d.value?.parts.map((p) => [p.id, p]) ?? []))
const name = (id: string) => parts.value.get(id)?.name ?? id
const slices = computed(() => d.value?.slices.map((s) => s.slice) ?? [])
const at = ref(0)
watch(slices, (s) => (at.value = Math.min(at.value, Math.max(0, s.length - 1))))
const here = computed(() => d.value?.slices[at.value])
const weights = (p: S['StraightProduct']) =>
  mass(p.lightest_g, 2) === mass(p.heaviest_g, 2)
    ? mass(p.lightest_g, 2)
    : say`${mass(p.lightest_g, 2)} to ${mass(p.heaviest_g, 2)}`
const says = (i: number) => {
  const s = d.value!.slices[i]!
  if (s.hard) return say('hard line')
  if (s.below.length) return say('below 3')
  return s.falls ? say('falls apart') : ''
}
const called = (id: string) => d.value?.products.find((p) => p.id === id)?.name ?? id
</script>

<template>
  <section data-test="straight">
    <StateNote :error="error" :loading="isLoading" what="the slices" @retry="refetch()" />
    <template v-if="d && here">
      <p v-for="s in d.says" :key="s" class="says">{{ s }}</p>
      <SliceRow v-model="at" :slices="slices" :parts="parts" :half="d.half" :says="says" />
      <div class="lay">
        <div>
          <SliceContent :slice="here.slice" :parts="parts" :half="d.half" :among="slices" />
        </div>
        <div>
          <h3>Slice {{ at + 1 }}: {{ called(here.product) }}</h3>
          <ul>
            <li v-if="here.grade">Eats like {{ gradeName(here.grade) }} on the whole, {{ here.score }} points.</li>
            <li v-if="here.worst && here.slice.muscles > 1">
              The one in it that eats worst is {{ name(here.worst) }}.
            </li>
            <li v-if="here.below.length">Below 3 as it is sold: {{ here.below.map(name).join(', ') }}.</li>
            <li v-if="here.hard">A hard line runs through it.</li>
            <li v-if="here.falls">A seam crosses most of the face: it falls apart unless tied.</li>
          </ul>
          <table v-wide>
            <thead>
              <tr>
                <th>From the {{ d.from }}</th>
                <th class="n">Slices</th>
                <th class="n">Hard line</th>
                <th class="n">Three muscles</th>
                <th class="n">Grade</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="p in d.products" :key="p.id">
                <td>
                  {{ p.name }} <span class="small">{{ weights(p) }}</span>
                </td>
                <td class="n">
                  {{ p.slices }}<span v-if="p.pieces > p.slices" class="small">, {{ counted(p.pieces, 'piece') }}</span>
                </td>
                <td class="n">{{ p.hard || '–' }}</td>
                <td class="n">{{ p.many || '–' }}</td>
                <td class="n">{{ p.grade ? gradeName(p.grade) : '–' }}</td>
              </tr>
            </tbody>
          </table>
          <p class="small">
            {{
              d.measured
                ? say('At the weights of this piece; where what lies is from memory.')
                : say('Of a piece of its usual weight; all from memory, nothing measured.')
            }}
          </p>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.says {
  margin: 4px 0;
  max-width: 80ch;
}
.lay {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(320px, 1fr));
  gap: 12px 40px;
  align-items: start;
}
h3 {
  font-size: 16px;
  margin: 8px 0;
}
ul {
  margin: 0 0 12px;
  padding-left: 18px;
}
</style>
