<script setup lang="ts">
// A piece that is cut to learn: whose practice it is, and how much the bench says meanwhile.
import { nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import PvButton from 'primevue/button'
import PickOne from '../components/PickOne.vue'
import { useAttempt } from '../api/useAttempt'
import { levels, usePracticeMark, useRecord } from '../learn/useLearning'
import { useMe } from '../shell/me'
import { say } from '../words/say'

const props = defineProps<{ breakdown: string }>()
const emit = defineEmits<{ back: [] }>()
const { me, leads } = useMe()
const { data: mark, set, end } = usePracticeMark(props.breakdown)
const { data: record } = useRecord('', () => leads.value)
const who = ref('')
const level = ref('2')
watch(
  mark,
  (m) => {
    if (m?.practice) {
      who.value = m.member === me.value?.id ? '' : (m.member ?? '')
      level.value = String(m.level)
    }
  },
  { immediate: true },
)
const { busy, problem, attempt } = useAttempt()
const keep = () =>
  attempt(async () => {
    await set({ level: Number(level.value), ...(who.value && { member: who.value }) })
    emit('back')
  })
const ordinary = () =>
  attempt(async () => {
    await end()
    emit('back')
  })
const root = useTemplateRef<HTMLElement>('root')
onMounted(() => void nextTick(() => root.value?.querySelector<HTMLElement>('button, [role=combobox]')?.focus()))
</script>

<template>
  <div
    ref="root"
    class="panel"
    role="group"
    aria-label="A practice piece"
    data-test="practice-panel"
    @keydown.escape="emit('back')"
    @keydown.stop
  >
    <span class="label"
      >A practice piece is compared with the house once it is finished, and a head cutter signs off its steps.</span
    >
    <label v-if="record?.others.length" class="row"
      >Who practises
      <PickOne
        id="practice-who"
        v-model="who"
        :options="record.others.filter((o) => o.id !== me?.id)"
        by="id"
        called="name"
        none="I do"
        label="Who practises"
      />
    </label>
    <label class="row"
      >The bench says
      <PickOne
        id="practice-level"
        v-model="level"
        :options="levels"
        by="id"
        called="name"
        label="What the bench says"
      />
    </label>
    <p v-if="problem" class="fault" role="alert">{{ problem.at('member') || problem.message }}</p>
    <span class="row">
      <PvButton
        :label="mark?.practice ? say('Change it') : say('It is a practice piece')"
        :disabled="busy"
        data-test="practice-keep"
        @click="keep"
      />
      <PvButton
        v-if="mark?.practice"
        severity="secondary"
        label="An ordinary piece again"
        :disabled="busy"
        @click="ordinary"
      />
      <PvButton text label="Back" @click="emit('back')" />
    </span>
  </div>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  gap: 10px;
  border: 4px solid var(--act);
  background: var(--surface);
  padding: 10px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
.panel :deep(.p-button),
.panel :deep(.p-select) {
  min-height: 56px;
}
</style>
