<script setup lang="ts">
// A sawn face without names; where a place is asked for, a mark that is moved along the piece shows the face there.
import { computed, ref } from 'vue'
import PvButton from 'primevue/button'
import PvSlider from 'primevue/slider'
import type { S } from '../api/client'
import SectionPicture from '../body/SectionPicture.vue'
import { useBox } from '../body/useBox'
import { useThinSlices } from '../body/useThinSlices'
import StateNote from '../components/StateNote.vue'

const props = defineProps<{ question: S['DrillQuestion']; verdict?: S['DrillVerdict']; busy: boolean }>()
const emit = defineEmits<{ enter: [number] }>()
const { data: b, error, isLoading, refetch } = useThinSlices(() => props.question.piece)
const moved = computed(() => props.question.number?.unit === 'mm')
const at = ref(props.question.at_mm ?? (props.question.number?.high ?? 0) / 2)
const done = computed(() => props.verdict?.done ?? false)
const mm = computed(() => (done.value && props.verdict?.number !== undefined ? props.verdict.number : at.value))
const slice = computed(() => b.value?.slices.find((s) => mm.value < s.to_mm) ?? b.value?.slices.at(-1))
/** Names stand on the face once it is answered. */
const parts = computed(
  () => new Map(b.value?.parts.map((p) => [p.id, done.value ? p : { ...p, name: '', code: '' }]) ?? []),
)
const box = useBox(
  () => b.value?.slices ?? [],
  () => b.value?.half ?? false,
)
</script>

<template>
  <StateNote :error="error" :loading="isLoading" what="the face" @retry="refetch()" />
  <template v-if="b && slice">
    <SectionPicture
      :slice="slice"
      :parts="parts"
      :half="b.half"
      :box="box"
      :picked="done ? question.lit : undefined"
      class="face"
      data-test="drill-face"
    />
    <template v-if="moved">
      <PvSlider
        v-model="at"
        :min="0"
        :max="Math.floor(b.length_mm)"
        :step="1"
        :disabled="done"
        aria-label="The mark, in millimetres"
        data-test="drill-mark"
      />
      <p class="at">
        <strong class="figure">{{ Math.round(at) }} mm</strong> from the {{ question.from }}, of
        {{ Math.round(b.length_mm) }}
      </p>
      <PvButton v-if="!done" label="Here" :disabled="busy" data-test="drill-here" @click="emit('enter', at)" />
    </template>
  </template>
</template>

<style scoped>
.face {
  max-height: 380px;
  width: 100%;
}
.at {
  margin: 18px 0 6px;
}
</style>
