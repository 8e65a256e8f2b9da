<script setup lang="ts">
// The block of a question in space: turned, pulled apart, and a part of it touched.
import { ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import PvSlider from 'primevue/slider'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'
import BlockCanvas from '../body/BlockCanvas.vue'
import StateNote from '../components/StateNote.vue'

const props = defineProps<{ piece: string; gone: Set<string>; lit: string }>()
const emit = defineEmits<{ touch: [string]; flat: [] }>()
const {
  data: b,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: keyOf('block', props.piece, ''),
  queryFn: () => data(GET('/atlas/pieces/{atlas_id}/block', { params: { path: { atlas_id: props.piece } } })),
  staleTime: Infinity,
  retry: false,
})
const apart = ref(0)
watch(error, (e) => e && emit('flat'))
</script>

<template>
  <StateNote :error="error" :loading="isLoading" what="the block" @retry="refetch()" />
  <template v-if="b">
    <BlockCanvas
      :block="b"
      :gone="gone"
      :picked="lit"
      :apart="apart"
      data-test="drill-block"
      @touch="(id) => id && emit('touch', id)"
      @flat="emit('flat')"
    />
    <label class="slide"
      >Pull apart <PvSlider v-model="apart" :min="0" :max="100" :step="5" aria-label="Pull apart, percent"
    /></label>
  </template>
</template>

<style scoped>
.slide {
  display: flex;
  flex-direction: column;
  gap: 18px;
  padding: 0 18px 18px;
}
</style>
