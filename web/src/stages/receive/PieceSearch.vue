<script setup lang="ts">
// Finds a piece by any market's name, anatomical name or item number, also misspelt.
import { nextTick, ref, watch } from 'vue'
import AutoComplete, { type AutoCompleteCompleteEvent } from 'primevue/autocomplete'
import { data, GET, type S } from '../../api/client'
import { say } from '../../words/say'
import { foundBy } from '../../words/markets'

const props = defineProps<{ inputId: string; invalid?: boolean }>()
const piece = defineModel<S['PieceHit'] | undefined>({ required: true })
const emit = defineEmits<{ failed: [unknown] }>()
const text = ref<S['PieceHit'] | string>(piece.value ?? '')
const hits = ref<S['PieceHit'][]>([])
const box = ref<{ hide: () => void }>()
/** What the hits were asked for. */
let answered = ''
/** Enter was pressed before the hits of what stands in the field were there: the first of them is meant. */
let wanted = false

async function search(e: AutoCompleteCompleteEvent) {
  const asked = e.query
  let found: S['PieceHit'][] = []
  try {
    found = await data(GET('/atlas/search', { params: { query: { q: asked.slice(0, 80) } } }))
  } catch (err) {
    emit('failed', err)
  }
  if (typeof text.value === 'string' && asked !== text.value) return // a later letter asks anew
  answered = asked
  hits.value = found
  if (wanted && found[0]) text.value = found[0]
  wanted = false
  if (typeof text.value === 'string') return
  await nextTick() // a piece is chosen: the list that the answer opened shuts again
  box.value?.hide()
}
function early(e: KeyboardEvent) {
  if (typeof text.value !== 'string' || !text.value.trim() || text.value === answered) return
  wanted = true
  e.preventDefault()
  e.stopPropagation()
}
watch(text, (t) => {
  piece.value = typeof t === 'object' && t !== null ? t : undefined
  wanted = false
})
watch(piece, (p) => {
  if (p && p !== text.value) text.value = p
})
</script>

<template>
  <span class="search" @keydown.enter.capture="early"
    ><AutoComplete
      ref="box"
      v-model="text"
      :input-id="props.inputId"
      :suggestions="hits"
      option-label="name"
      :delay="80"
      :min-length="1"
      auto-option-focus
      empty-search-message="No piece by that name"
      :invalid="props.invalid"
      placeholder="rump, 184, alcatra…"
      @complete="search"
    >
      <template #option="{ option }">
        <span class="hit"
          ><span>{{ option.name }}</span
          ><span v-if="option.matched !== option.name" class="small"
            >{{ option.near ? say('perhaps ') : '' }}{{ option.matched }}: {{ foundBy(option.why) }}</span
          ><span v-if="option.other_meanings.length" class="small warn"
            >The name means other things elsewhere: {{ option.other_meanings.join('; ') }}</span
          ></span
        >
      </template>
    </AutoComplete></span
  >
</template>

<style scoped>
.search {
  display: contents;
}
.warn {
  color: var(--act);
  white-space: normal;
  max-width: 560px;
}
.hit {
  display: flex;
  flex-direction: column;
  min-height: 40px;
  justify-content: center;
}
</style>
