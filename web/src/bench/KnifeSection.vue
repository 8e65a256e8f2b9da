<script setup lang="ts">
// Beside the flat map: the section of the piece at the place where the knife is. It follows the seam that comes next;
// the slider goes anywhere. Where the inside is not known, or nothing can be fetched, there is none.
import { computed, ref, watch } from 'vue'
import PvButton from 'primevue/button'
import PvSlider from 'primevue/slider'
import SectionPicture from '../body/SectionPicture.vue'
import { useBox } from '../body/useBox'
import { useThinSlices } from '../body/useThinSlices'
import { say } from '../words/say'

const props = defineProps<{ piece: string; muscle?: string }>()
const open = ref(false)
const { data: b } = useThinSlices(
  () => props.piece,
  () => open.value,
)
const parts = computed(() => new Map(b.value?.parts.map((p) => [p.id, p]) ?? []))
const at = ref(0)
const slice = computed(() => b.value?.slices.find((s) => at.value < s.to_mm) ?? b.value?.slices.at(-1))
const box = useBox(
  () => b.value?.slices ?? [],
  () => b.value?.half ?? false,
)
const run = computed(() => parts.value.get(props.muscle ?? ''))
watch(
  run,
  (r) => {
    if (r?.from_mm !== undefined) at.value = Math.round((r.from_mm + (r.to_mm ?? r.from_mm)) / 2)
  },
  { immediate: true },
)
const where = computed(() => say`${Math.round(at.value)} mm from the ${b.value?.from ?? ''}`)
</script>

<template>
  <div class="knife" data-test="knife">
    <PvButton
      text
      :label="open ? say('Only the map') : say('Inside, at the knife')"
      :aria-expanded="open"
      data-test="knife-open"
      @click="open = !open"
    />
    <template v-if="open && b && slice">
      <SectionPicture :slice="slice" :parts="parts" :half="b.half" :box="box" :picked="muscle" class="picture" />
      <PvSlider
        v-model="at"
        class="at"
        :min="0"
        :max="Math.floor(b.length_mm)"
        :step="5"
        aria-label="Where the knife is, mm"
      />
      <p class="small">
        {{ where
        }}<template v-if="run?.from_mm !== undefined"
          >. {{ run.name }} from {{ Math.round(run.from_mm) }} to {{ Math.round(run.to_mm ?? 0) }} mm</template
        >. From memory.
      </p>
    </template>
    <p v-else-if="open" class="small">The inside of this piece is not known here.</p>
  </div>
</template>

<style scoped>
.picture {
  max-width: 420px;
  margin: 0 auto 12px;
}
.at {
  margin: 26px 18px 28px;
}
.small {
  margin: 0;
}
</style>
