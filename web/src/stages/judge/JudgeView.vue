<script setup lang="ts">
// Muscle × cooking method, graded; the best is taken unless the cutter knows better and says why.
import { computed, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import PvButton from 'primevue/button'
import StateNote from '../../components/StateNote.vue'
import { data, GET, POST, PUT, type S } from '../../api/client'
import { useAttempt } from '../../api/useAttempt'
import { shortName, useShop } from '../../shell/shop'
import GradeDetail from './GradeDetail.vue'
import { gradeName } from './grades'
import { useMe } from '../../shell/me'

const props = defineProps<{ breakdown: string }>()
const { may } = useMe()
const router = useRouter()
const queries = useQueryClient()
const { mass } = useShop()
const key = ['judgement', props.breakdown]
const path = { breakdown_id: props.breakdown }
const { data: j, error, isLoading, refetch } = useQuery({ queryKey: key, queryFn: () => data(GET('/breakdowns/{breakdown_id}/judgement', { params: { path } })) })

const at = ref<{ part: string; method: string }>()
watch(j, (v) => { const m = v?.muscles[0]; if (!at.value && m) at.value = { part: m.part, method: m.chosen } }, { immediate: true })
const muscle = computed(() => j.value?.muscles.find((m) => m.part === at.value?.part))
const cell = computed(() => muscle.value?.cells.find((c) => c.method === at.value?.method))
const cellOf = (m: S['MuscleJudgement'], method: string) => m.cells.find((c) => c.method === method)
const methodName = (id: string) => j.value?.methods.find((m) => m.id === id)?.name ?? id
const warned = computed(() => j.value?.muscles.filter((m) => m.warnings.length) ?? [])

const { busy, problem, attempt } = useAttempt()
const choose = (method: string, note: string) => attempt(async () => {
  const m = muscle.value!
  queries.setQueryData(key, await data(PUT('/breakdowns/{breakdown_id}/judgement/{part_id}', { params: { path: { ...path, part_id: m.part } }, body: { method, note, version: m.version } })))
})
const confirm = () => attempt(async () => {
  await data(POST('/breakdowns/{breakdown_id}/judgement/confirm', { params: { path } }))
  await queries.invalidateQueries()
  await router.push({ name: 'compare', params: { breakdown: props.breakdown } })
})

/** Arrow keys walk over the matrix; Tab leaves it for the details of the cell. */
function walk(e: KeyboardEvent) {
  const by = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[e.key]
  if (!by || !j.value) return
  e.preventDefault()
  const here = (e.target as HTMLElement).closest<HTMLElement>('[data-cell]')
  const [r, c] = (here?.dataset.cell ?? '0,0').split(',').map(Number)
  for (let i = 1; i < 12; i++) {
    const next = document.querySelector<HTMLElement>(`[data-cell="${r! + by[0]! * i},${c! + by[1]! * i}"]`)
    if (next) return next.focus()
  }
}
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the judgement" @retry="refetch()" />
    <template v-if="j">
      <p class="label">{{ j.piece.name }} · {{ j.piece.lot_number }} · {{ j.age_days }} days old when cut</p>
      <h1 class="sentence">How should each muscle be cooked?</h1>
      <div class="lay">
        <div>
          <table class="matrix" @keydown="walk">
            <thead><tr><th>Muscle</th><th v-for="m in j.methods" :key="m.id" :class="{ quick: m.quick }">{{ m.name }}</th></tr></thead>
            <tbody>
              <tr v-for="(m, r) in j.muscles" :key="m.part">
                <th scope="row"><span class="name">{{ shortName(m.name) }}</span><span class="small">{{ mass(m.weight_g, 2) }}, {{ m.weight_basis }}</span></th>
                <td v-for="(x, c) in j.methods" :key="x.id">
                  <button
                    v-if="cellOf(m, x.id)" type="button" class="cell" :class="[`g-${cellOf(m, x.id)!.grade}`, { chosen: m.chosen === x.id, best: m.best === x.id, at: at?.part === m.part && at?.method === x.id }]"
                    :data-cell="`${r},${c}`" :data-part="m.part" :data-method="x.id" :aria-pressed="m.chosen === x.id" :tabindex="at?.part === m.part && at?.method === x.id ? 0 : -1"
                    :aria-label="`${m.name}, ${x.name}: ${gradeName(cellOf(m, x.id)!.grade)}, score ${cellOf(m, x.id)!.score}, ${cellOf(m, x.id)!.basis}${m.best === x.id ? ', best' : ''}${m.chosen === x.id ? ', chosen' : ''}`"
                    @click="at = { part: m.part, method: x.id }" @focus="at = { part: m.part, method: x.id }"
                  ><span class="g">{{ cellOf(m, x.id)!.grade === 'below_3' ? '<3' : cellOf(m, x.id)!.grade }}</span><span class="score">{{ cellOf(m, x.id)!.score.toFixed(0) }}</span><span v-if="m.chosen === x.id" class="mark">{{ m.best === x.id ? 'best' : 'chosen' }}</span></button>
                </td>
              </tr>
            </tbody>
          </table>
          <p class="small key">The large figure is the grade, the small one the score out of 100 behind it. Every score here is the atlas' estimate (n = 0 eaters). Underlined methods are quick.</p>
          <p v-for="m in warned" :key="m.part" class="warn"><strong>{{ shortName(m.name) }}.</strong> {{ m.warnings.join(' ') }}</p>
        </div>
        <GradeDetail v-if="muscle && cell" :key="muscle.part + cell.method" :muscle="muscle" :cell="cell" :method="methodName(cell.method)" :best="methodName(muscle.best)" :problem="problem" :busy="busy" @choose="choose" />
      </div>
      <p v-if="problem && !problem.at('note') && !problem.at('method')" class="fault" role="alert">{{ problem.message }} <PvButton v-if="problem.status === 409" text label="Load it again" @click="refetch()" /></p>
      <div v-if="j.confirmed || may('POST /breakdowns/{breakdown_id}/judgement/confirm')" class="row confirm"><PvButton :label="j.confirmed ? 'See what it paid' : 'Let these methods stand'" :disabled="busy" data-test="confirm" @click="confirm" /></div>
    </template>
  </section>
</template>

<style scoped>
.sentence { margin: 8px 0 16px; }
.lay { display: grid; grid-template-columns: minmax(0, 1fr) 320px; gap: 28px; align-items: start; }
.matrix th { font-size: 13px; vertical-align: bottom; padding: 4px; border: 0; }
.matrix th.quick { text-decoration: underline; text-underline-offset: 3px; }
.matrix th[scope='row'] { vertical-align: middle; color: var(--ink); width: 150px; padding: 2px 8px 2px 0; }
.name { display: block; font-size: 15px; line-height: 1.15; }
.matrix td { padding: 2px; border: 0; }
.cell { position: relative; width: 100%; min-width: 56px; height: 60px; border: 2px solid transparent; border-radius: 2px; cursor: pointer; display: flex; align-items: baseline; justify-content: center; gap: 5px; padding: 10px 0 0; }
.g { font-size: 24px; font-weight: 750; line-height: 1; }
.score { font-size: 13px; }
.mark { position: absolute; bottom: 3px; left: 0; right: 0; text-align: center; font-size: 11px; font-weight: 750; font-stretch: 84%; }
.cell.chosen { border-color: var(--ink); outline: 1px solid var(--surface); outline-offset: -4px; }
.cell.at { box-shadow: 0 4px 0 var(--ink); }
.g-below_3 { background: var(--g-below); color: var(--g-below-ink); }
.g-3 { background: var(--g-3); color: var(--g-3-ink); }
.g-4 { background: var(--g-4); color: var(--g-4-ink); }
.g-5 { background: var(--g-5); color: var(--g-5-ink); }
.key { margin: 10px 0; }
.warn { margin-top: 4px; }
.confirm { margin-top: 18px; }
@media (max-width: 1000px) { .lay { grid-template-columns: minmax(0, 1fr); } .matrix { display: block; overflow-x: auto; } }
</style>
