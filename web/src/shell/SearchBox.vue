<script setup lang="ts">
// The search over everything: pages, pieces, lots, and whatever bears a name in the atlas.
import { nextTick, onMounted, ref } from 'vue'
import { useRouter, type RouteLocationRaw } from 'vue-router'
import AutoComplete, { type AutoCompleteCompleteEvent, type AutoCompleteOptionSelectEvent } from 'primevue/autocomplete'
import { asProblem } from '../api/problem'
import { findAll, type Hit, type HitGroup } from './search'
import { useMe } from './me'
import { useShop } from './shop'

const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { may } = useMe()
const { mass } = useShop()
const text = ref<string | Hit>('')
const groups = ref<HitGroup[]>([])
const fault = ref('')

async function find(e: AutoCompleteCompleteEvent) {
  const asked = e.query
  fault.value = ''
  try {
    const found = await findAll(asked, { may, mass })
    if (asked === text.value) groups.value = found
  } catch (err) {
    groups.value = []
    fault.value = asProblem(err).message
  }
}
function go(e: AutoCompleteOptionSelectEvent) {
  emit('close')
  void router.push((e.value as Hit).to as RouteLocationRaw)
}
onMounted(() => void nextTick(() => document.getElementById('search-all')?.focus()))
</script>

<template>
  <div class="box" role="search" @keydown.escape="emit('close')">
    <AutoComplete
      v-model="text"
      input-id="search-all"
      :suggestions="groups"
      option-label="title"
      option-group-label="label"
      option-group-children="hits"
      :delay="120"
      :min-length="1"
      auto-option-focus
      aria-label="Search pieces, lots, cuts and pages"
      empty-search-message="Nothing is called so"
      placeholder="A piece, a lot, a cut by any name, a page"
      scroll-height="min(60vh, 480px)"
      @complete="find"
      @option-select="go"
    >
      <template #optiongroup="{ option }"
        ><span class="label">{{ option.label }}</span></template
      >
      <template #option="{ option }"
        ><span class="hit"
          ><strong>{{ option.title }}</strong
          ><span class="small">{{ option.detail }}</span></span
        ></template
      >
    </AutoComplete>
    <button type="button" class="close" @click="emit('close')">Close</button>
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
  </div>
</template>

<style scoped>
.box {
  position: absolute;
  top: 100%;
  right: 0;
  width: min(720px, 100vw);
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  padding: 12px;
  background: var(--surface);
  border: 2px solid var(--ink);
  z-index: 30;
}
.close {
  min-height: 44px;
  padding: 0 12px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: none;
  cursor: pointer;
}
.hit {
  display: flex;
  flex-direction: column;
  justify-content: center;
  min-height: 40px;
  white-space: normal;
}
.fault {
  grid-column: 1 / -1;
}
</style>
