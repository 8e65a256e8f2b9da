<script setup lang="ts">
// The house's grades: every muscle of a piece by every cooking method, at a glance, with the reason one touch away.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { keyOf } from '../api/keys'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET } from '../api/client'
import GradeMatrix from './GradeMatrix.vue'
import PickOne from '../components/PickOne.vue'
import { pieceName } from '../words/pieceName'
import { useAtlasPieces } from '../atlas/useAtlasPieces'
import GradeWhy from './GradeWhy.vue'
import { say } from '../words/say'

const props = defineProps<{ piece?: string }>()
const router = useRouter()
const { data: pieces, error: atlasError } = useAtlasPieces()
const piece = computed(() => props.piece || 'beef.top_sirloin')
const {
  data: grades,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('grades', piece.value)),
  queryFn: () => data(GET('/grades/{atlas_id}', { params: { path: { atlas_id: piece.value } } })),
  placeholderData: (old) => old,
})
const at = ref<{ part: string; method: string }>()
watch(
  grades,
  (g) => {
    const m = g?.muscles[0]
    if (m && !g?.muscles.some((x) => x.part === at.value?.part)) at.value = { part: m.part, method: m.best }
  },
  { immediate: true },
)
const muscle = computed(() => grades.value?.muscles.find((m) => m.part === at.value?.part))
const cell = computed(() => muscle.value?.cells.find((c) => c.method === at.value?.method))
const tasted = computed(
  () =>
    new Set(
      (grades.value?.muscles ?? []).flatMap((m) =>
        m.cells.filter((c) => c.assessors).map((c) => `${m.part} ${c.method}`),
      ),
    ).size,
)
const all = computed(() => grades.value?.muscles.reduce((n, m) => n + m.cells.length, 0) ?? 0)
const noSteak = computed(() => grades.value?.muscles.filter((m) => m.no_steak).map((m) => m.name) ?? [])
const choose = (id?: string) => void router.replace({ name: 'grades', params: { piece: id } })
</script>

<template>
  <section class="page">
    <p class="label">
      <RouterLink :to="{ name: 'tastings' }">Tastings</RouterLink> ·
      <RouterLink :to="{ name: 'grade-settings' }">How grades are made, and sheets of scores</RouterLink>
    </p>
    <h1 class="sentence">
      {{ grades ? say`${tasted} of ${all} grades of this piece rest on our own eaters.` : say('Grades') }}
    </h1>
    <div class="pick">
      <FormField id="piece" label="Piece"
        ><PickOne id="piece" :model-value="piece" :options="pieces" :called="pieceName" @update:model-value="choose"
      /></FormField>
    </div>
    <StateNote :error="error ?? atlasError" :loading="isLoading" what="the grades" @retry="refetch()" />
    <div v-if="grades" class="lay">
      <div>
        <GradeMatrix v-model:at="at" :methods="grades.methods" :rows="grades.muscles" />
        <p class="small key">
          The large figure is the grade, the small one the score of 100 behind it; n how many eaters of our own, without
          it the atlas’ estimate or a score that was given. Underlined methods are quick. The best is the one with the
          highest floor.
        </p>
        <p v-if="noSteak.length" class="warn">
          <strong>{{ noSteak.join(', ') }}.</strong> Below 3 by every quick method: braise it, slice it thin or mince
          it.
        </p>
      </div>
      <aside v-if="muscle && cell" class="detail">
        <h2>{{ muscle.name }}: {{ grades.methods.find((m) => m.id === cell?.method)?.name.toLowerCase() }}</h2>
        <GradeWhy :cell="cell" />
        <p class="small">
          19 times in 20 it eats better than {{ cell.low.toFixed(0)
          }}{{ muscle.best === cell.method ? say(': the highest floor, so the best method') : '' }}.
        </p>
      </aside>
    </div>
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0 12px;
}
.pick {
  max-width: 420px;
  margin-bottom: 14px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 28px;
  align-items: start;
}
.detail {
  border-left: 1px solid var(--hairline);
  padding-left: 24px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.key {
  margin: 10px 0;
}
.warn {
  margin-top: 4px;
}
@media (max-width: 1000px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
