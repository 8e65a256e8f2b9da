<script setup lang="ts">
// Shear force, where there is an instrument: the cores of a sample, their mean and class.
import { ref } from 'vue'
import PvButton from 'primevue/button'
import { data, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import PickOne from '../components/PickOne.vue'
import { shortName } from '../words/shown'
import { say } from '../words/say'

const props = defineProps<{ tasting: S['Tasting'] }>()
const emit = defineEmits<{ done: [S['Tasting']] }>()
const { may } = useMe()
const code = ref(props.tasting.samples[0]?.code ?? '')
const text = ref('')
const { busy, problem, attempt } = useAttempt()
const keep = () =>
  attempt(async () => {
    const cores = text.value
      .split(/[\s;]+/)
      .filter(Boolean)
      .map((t) => Number(t.replace(',', '.')))
    if (cores.some((c) => !Number.isFinite(c))) throw new Error(say('One of the figures is no number.'))
    emit(
      'done',
      await data(
        PUT('/tastings/{tasting_id}/samples/{code}/cores', {
          params: { path: { tasting_id: props.tasting.id, code: code.value } },
          body: { cores },
        }),
      ),
    )
    text.value = ''
  })
const words = { very_tender: say('very tender'), tender: say('tender'), above: say('above 4.4: not tender') } as const

const sampleName = (s: S['Tasting']['samples'][number]) =>
  `${s.code}, ${shortName(s.muscle)}, ${s.method_name.toLowerCase()}`
</script>

<template>
  <details class="shear">
    <summary>Shear force</summary>
    <p v-for="s in tasting.samples.filter((x) => x.shear)" :key="s.code" class="small">
      {{ s.code }}, {{ shortName(s.muscle) }}, {{ s.method_name.toLowerCase() }}:
      <strong>{{ s.shear!.mean.toFixed(2) }} kgf</strong> ± {{ s.shear!.sd.toFixed(2) }} of
      {{ s.shear!.cores.length }} cores, {{ words[s.shear!.class] }}.
    </p>
    <form v-if="may('PUT /tastings/{tasting_id}/samples/{code}/cores')" class="row" novalidate @submit.prevent="keep">
      <PickOne v-model="code" label="Sample" :options="tasting.samples" by="code" :called="sampleName" /><input
        v-model="text"
        placeholder="six cores or more, kgf: 3,8 4,1 …"
        aria-label="Cores in kgf"
      /><PvButton type="submit" severity="secondary" label="Keep them" :disabled="busy || !text.trim()" />
    </form>
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <p class="small">
      Warner–Bratzler, the mean of at least six cores: up to 3.9 kgf very tender, up to 4.4 tender (ASTM F2925, from
      memory).
    </p>
  </details>
</template>

<style scoped>
.shear {
  margin-top: 14px;
}
summary {
  min-height: 44px;
  display: flex;
  align-items: center;
  cursor: pointer;
  font-weight: 650;
}
input {
  font: inherit;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 10px;
  background: var(--surface);
  color: var(--ink);
}
input {
  flex: 1;
  min-width: 220px;
}
</style>
