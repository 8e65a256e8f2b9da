<script setup lang="ts">
// Muscle × cooking method, graded; the best is taken unless the cutter knows better and says why.
import { computed, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import PvButton from 'primevue/button'
import { keyOf } from '../../api/keys'
import StateNote from '../../components/StateNote.vue'
import { data, GET, POST, PUT } from '../../api/client'
import { useAttempt } from '../../api/useAttempt'
import { useShop } from '../../shell/shop'
import { shortName } from '../../words/shown'
import GradeMatrix from '../../grades/GradeMatrix.vue'
import GradeDetail from './GradeDetail.vue'
import { useMe } from '../../shell/me'
import { counted, say } from '../../words/say'
import { useTitle } from '../../shell/title'

const props = defineProps<{ breakdown: string }>()
const { may } = useMe()
const router = useRouter()
const queries = useQueryClient()
const { mass } = useShop()
const key = keyOf('judgement', props.breakdown)
const path = { breakdown_id: props.breakdown }
const {
  data: j,
  error,
  isLoading,
  refetch,
} = useQuery({ queryKey: key, queryFn: () => data(GET('/breakdowns/{breakdown_id}/judgement', { params: { path } })) })

const at = ref<{ part: string; method: string }>()
watch(
  j,
  (v) => {
    const m = v?.muscles[0]
    if (!at.value && m) at.value = { part: m.part, method: m.chosen }
  },
  { immediate: true },
)
const muscle = computed(() => j.value?.muscles.find((m) => m.part === at.value?.part))
const cell = computed(() => muscle.value?.cells.find((c) => c.method === at.value?.method))
const rows = computed(
  () =>
    j.value?.muscles.map((m) => ({
      part: m.part,
      name: m.name,
      under: `${mass(m.weight_g, 2)}, ${m.weight_basis}`,
      cells: m.cells,
      best: m.best,
      chosen: m.chosen,
    })) ?? [],
)
const methodName = (id: string) => j.value?.methods.find((m) => m.id === id)?.name ?? id
/** What confirming would mean, in a sentence. */
const sentence = computed(() => {
  const all = j.value?.muscles ?? []
  const own = all.filter((m) => m.chosen !== m.best)
  const untasted = all.filter((m) => !m.cells.find((c) => c.method === m.chosen)?.assessors)
  const first = own.length
    ? say`${counted(all.length - own.length, 'muscle')} as the house’s grades say, ${own.length} another way.`
    : say`All ${all.length} muscles as the house’s grades say.`
  if (!untasted.length) return say`${first} Eaters stand behind every one.`
  const which = untasted.length === all.length ? 'any' : String(untasted.length)
  return say`${first} Nobody has tasted ${which} of them so yet.`
})
const warned = computed(() => j.value?.muscles.filter((m) => m.warnings.length) ?? [])

const { busy, problem, attempt } = useAttempt()
const choose = (method: string, note: string) =>
  attempt(async () => {
    const m = muscle.value!
    queries.setQueryData(
      key,
      await data(
        PUT('/breakdowns/{breakdown_id}/judgement/{part_id}', {
          params: { path: { ...path, part_id: m.part } },
          body: { method, note, version: m.version },
        }),
      ),
    )
  })
const confirm = () =>
  attempt(async () => {
    await data(POST('/breakdowns/{breakdown_id}/judgement/confirm', { params: { path } }))
    await queries.invalidateQueries()
    await router.push({ name: 'compare', params: { breakdown: props.breakdown } })
  })

useTitle(() => j.value && `${shortName(j.value.piece.name)} ${j.value.piece.lot_number}`)
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the judgement" @retry="refetch()" />
    <template v-if="j">
      <p class="label">{{ j.piece.name }} · {{ j.piece.lot_number }} · {{ j.age_days }} days old when cut</p>
      <h1 class="sentence" data-test="judge-sentence">{{ sentence }}</h1>
      <div class="lay">
        <div>
          <GradeMatrix v-model:at="at" :methods="j.methods" :rows="rows" />
          <p class="small key">
            The large figure is the grade, the small one the score out of 100 behind it. n is how many eaters of our own
            stand behind it; without, it is the atlas’ estimate or a score that was given. Underlined methods are quick.
          </p>
          <p v-for="m in warned" :key="m.part" class="warn">
            <strong>{{ shortName(m.name) }}.</strong> {{ m.warnings.join(' ') }}
          </p>
        </div>
        <GradeDetail
          v-if="muscle && cell"
          :key="muscle.part + cell.method"
          :muscle="muscle"
          :cell="cell"
          :method="methodName(cell.method)"
          :best="methodName(muscle.best)"
          :problem="problem"
          :busy="busy"
          @choose="choose"
        />
      </div>
      <p v-if="problem && !problem.at('note') && !problem.at('method')" class="fault" role="alert">
        {{ problem.message }} <PvButton v-if="problem.status === 409" text label="Load it again" @click="refetch()" />
      </p>
      <div v-if="j.confirmed || may('POST /breakdowns/{breakdown_id}/judgement/confirm')" class="row confirm">
        <PvButton
          :label="j.confirmed ? say('See what it paid') : say('Confirm cooking methods')"
          :disabled="busy"
          data-test="confirm"
          @click="confirm"
        />
      </div>
    </template>
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0 16px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 28px;
  align-items: start;
}
.key {
  margin: 10px 0;
}
.warn {
  margin-top: 4px;
}
.confirm {
  margin-top: 18px;
}
@media (max-width: 1000px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
