<script setup lang="ts">
// Finds a piece by any market's name, anatomical name or item number, also misspelt.
import { ref, watch } from 'vue'
import AutoComplete, { type AutoCompleteCompleteEvent } from 'primevue/autocomplete'
import { data, GET, type S } from '../../api/client'

const props = defineProps<{ inputId: string; invalid?: boolean }>()
const piece = defineModel<S['PieceHit'] | undefined>({ required: true })
const emit = defineEmits<{ failed: [unknown] }>()
const text = ref<S['PieceHit'] | string>(piece.value ?? '')
const hits = ref<S['PieceHit'][]>([])

async function search(e: AutoCompleteCompleteEvent) {
  try {
    hits.value = await data(GET('/atlas/search', { params: { query: { q: e.query.slice(0, 80) } } }))
  } catch (err) {
    hits.value = []
    emit('failed', err)
  }
}
watch(text, (t) => {
  piece.value = typeof t === 'object' && t !== null ? t : undefined
})
watch(piece, (p) => {
  if (p && p !== text.value) text.value = p
})
</script>

<template>
  <AutoComplete
    v-model="text" :input-id="props.inputId" :suggestions="hits" option-label="name" :delay="80" :min-length="1" auto-option-focus
    empty-search-message="No piece by that name" :invalid="props.invalid" placeholder="rump, 184, alcatra…" @complete="search"
  >
    <template #option="{ option }">
      <span class="hit"><span>{{ option.name }}</span><span v-if="option.matched !== option.name" class="small">{{ option.near ? 'perhaps ' : '' }}{{ option.matched }}: {{ option.why }}</span><span v-if="option.other_meanings.length" class="small warn">The name means other things elsewhere: {{ option.other_meanings.join('; ') }}</span></span>
    </template>
  </AutoComplete>
</template>

<style scoped>
.warn { color: var(--act); white-space: normal; max-width: 560px; }
.hit { display: flex; flex-direction: column; min-height: 40px; justify-content: center; }
</style>
