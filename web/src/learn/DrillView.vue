<script setup lang="ts">
// A sitting of drills: the picture, the question, the answers; then why, in the atlas' words.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import PvButton from 'primevue/button'
import StateNote from '../components/StateNote.vue'
import { useEventListener } from '../shell/useEventListener'
import { useTitle } from '../shell/title'
import { counted, say } from '../words/say'
import { plainDay } from '../words/shown'
import DrillAnswers from './DrillAnswers.vue'
import DrillPicture from './DrillPicture.vue'
import DrillVerdict from './DrillVerdict.vue'
import { useSitting } from './useSitting'

const route = useRoute()
const one = (key: string) => String([route.query[key]].flat()[0] ?? '')
const s = useSitting(one('piece'), one('group'))
const { data: sitting, now: q, total, queue, asked, known, touched, verdict, busy, problem, error, isLoading } = s
const done = computed(() => !!sitting.value && !q.value)
const left = computed(() => queue.value.length)
const ended = computed(() => {
  if (!total.value)
    return sitting.value?.next_due
      ? say`Nothing is due before ${plainDay(sitting.value.next_due)}. Choose a piece to learn something new.`
      : say('Nothing was asked yet. Choose a piece to begin with.')
  return say`Done: ${known.value} of ${counted(asked.value, 'question')} known at once. The rest comes back soon.`
})
/** 1 to 9 touch an answer, Enter goes on. */
useEventListener('keydown', (e) => {
  if (!q.value || e.ctrlKey || e.metaKey || e.altKey || (e.target as HTMLElement).closest('input, textarea, canvas'))
    return
  if (e.key === 'Enter' && verdict.value?.done && !(e.target as HTMLElement).closest('button, a')) {
    e.preventDefault()
    void s.next()
  }
  const list = q.value.things ?? q.value.choices ?? []
  const pick = list[Number(e.key) - 1]
  if (pick) s.touch(pick.id)
})
useTitle(() => q.value?.piece_name)
</script>

<template>
  <section class="page drill" data-test="drill">
    <StateNote :error="error" :loading="isLoading" what="the questions" @retry="s.again()" />
    <template v-if="q">
      <p class="label spread">
        <span>{{ q.piece_name }}</span><span data-test="drill-left">{{
          left === 1 ? say('the last one') : say`${left} to go`
        }}</span>
      </p>
      <h1 class="sentence" data-test="drill-ask">{{ q.ask }}</h1>
      <div class="lay" :class="{ words: !q.lit && !q.touch && q.at_mm === undefined && q.number?.unit !== 'mm' }">
        <DrillPicture
          :key="q.card + q.turn + left"
          :question="q"
          :verdict="verdict"
          :busy="busy"
          @touch="s.touch"
          @enter="s.enter"
        />
        <div class="stack" :class="{ first: q.things }">
          <DrillAnswers
            :key="q.card + q.turn + left"
            :question="q"
            :verdict="verdict"
            :touched="touched"
            :busy="busy"
            @touch="s.touch"
            @enter="s.enter"
            @check="s.check"
          />
          <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
          <DrillVerdict v-if="verdict" :verdict="verdict" :question="q" :busy="busy" @next="s.next" />
        </div>
      </div>
    </template>
    <template v-else-if="done">
      <h1 class="sentence" data-test="drill-done">{{ ended }}</h1>
      <div class="row">
        <PvButton
          v-if="total && one('piece')"
          label="Go on with this piece"
          data-test="drill-more"
          @click="s.again()"
        />
        <RouterLink :to="{ name: 'learning' }">What you have learned</RouterLink>
      </div>
    </template>
  </section>
</template>

<style scoped>
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) minmax(280px, 1fr);
  gap: 16px 36px;
  align-items: start;
  margin-top: 12px;
}
.lay.words {
  grid-template-columns: minmax(0, 760px);
}
/* What is said of a touch stands above the things that are still on. */
.first {
  display: flex;
  flex-direction: column;
}
.first :deep(.choices) {
  order: 2;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: center;
}
@media (max-width: 760px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
