<script setup lang="ts">
// The atlas: every piece by species and region, and one box that finds anything by any name.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, type S } from '../api/client'
import { useShop } from '../shell/shop'
import { useAtlasPieces } from './useAtlasPieces'
import { useCarcasses } from './useCarcasses'

const { mass } = useShop()
const { data: pieces, error, isLoading, refetch } = useAtlasPieces()
const { data: carcasses } = useCarcasses()
const typed = ref('')
const question = ref('')
let timer: ReturnType<typeof setTimeout> | undefined
watch(typed, (t) => {
  clearTimeout(timer)
  timer = setTimeout(() => (question.value = t.trim().slice(0, 80)), 120)
})
const { data: hits, error: searchError } = useQuery({
  queryKey: ['atlas-search', question],
  enabled: () => question.value !== '',
  placeholderData: (old) => old,
  queryFn: () => data(GET('/atlas/search', { params: { query: { q: question.value } } })),
})
const groups = computed(() => {
  const out: { species: string; regions: { name: string; pieces: S['AtlasEntry'][] }[] }[] = []
  for (const p of pieces.value ?? []) {
    let s = out.find((g) => g.species === p.species)
    if (!s) out.push((s = { species: p.species, regions: [] }))
    const name = p.region.split(',')[0]!.trim()
    let r = s.regions.find((g) => g.name === name)
    if (!r) s.regions.push((r = { name, pieces: [] }))
    r.pieces.push(p)
  }
  return out
})
const count = computed(() => pieces.value?.reduce((n, p) => n + p.muscles, 0) ?? 0)
const numbers = (p: S['AtlasEntry']) =>
  Object.entries(p.codes)
    .map(([k, v]) => `${k.toUpperCase()} ${v}`)
    .join(' · ')
const what = (h: S['PieceHit']) => (h.kind === 'piece' ? '' : h.kind === 'muscle' ? 'muscle of' : 'made of')
</script>

<template>
  <section class="page">
    <h1 class="sentence">{{ pieces ? `${pieces.length} pieces, ${count} muscles.` : 'The atlas' }}</h1>
    <div class="ask">
      <FormField id="ask" label="Find anything by any name: house, market, Latin, item number"
        ><InputText
          id="ask"
          v-model="typed"
          type="search"
          autofocus
          autocomplete="off"
          placeholder="rump cap, biceps femoris, 184, picanha, flat irn"
      /></FormField>
    </div>
    <StateNote :error="error ?? searchError" :loading="isLoading" what="the atlas" @retry="refetch()" />
    <template v-if="question">
      <ul v-if="hits?.length" class="hits">
        <li v-for="h in hits" :key="h.id">
          <RouterLink
            :to="{ name: 'atlas-piece', params: { piece: h.id }, ...(h.kind === 'muscle' && { hash: `#${h.part}` }) }"
          >
            <strong>{{ h.part_name }}</strong><span v-if="what(h)"> {{ what(h) }} {{ h.name }}</span>
            <span class="small">{{ h.near ? 'perhaps ' : '' }}“{{ h.matched }}”, {{ h.why }}</span>
          </RouterLink>
          <p v-if="h.other_meanings.length" class="fault">
            This name does not mean the same everywhere. {{ h.other_meanings.join('; ') }}.
          </p>
        </li>
      </ul>
      <p v-else-if="hits" class="small">Nothing in the atlas bears that name, nor one like it.</p>
    </template>
    <template v-else>
      <section v-for="s in groups" :key="s.species" class="species">
        <h2 class="spread">
          <span>{{ s.species === 'beef' ? 'Beef' : s.species === 'lamb' ? 'Lamb' : s.species }}</span><span
            class="carcass"
            ><RouterLink
              v-for="c in carcasses?.filter((x) => x.species === s.species)"
              :key="c.id"
              :to="{ name: 'carcass', params: { carcass: c.id } }"
              >{{ c.name }}: how it is divided</RouterLink
            ></span
          >
        </h2>
        <div class="regions">
          <div v-for="r in s.regions" :key="r.name" class="region">
            <h3>{{ r.name }}</h3>
            <RouterLink
              v-for="p in r.pieces"
              :key="p.id"
              class="piece"
              :to="{ name: 'atlas-piece', params: { piece: p.id } }"
            >
              <strong>{{ p.name }}</strong><span v-if="p.name !== p.house_name" class="small">{{ p.house_name }}</span>
              <span class="small"
                >{{ mass(p.typical_g, 1) }} · {{ p.muscles }} {{ p.muscles === 1 ? 'muscle' : 'muscles'
                }}{{ p.bone_in ? ', bone in' : '' }} · {{ p.plans }} plans{{
                  numbers(p) ? ` · ${numbers(p)}` : ''
                }}</span
              >
            </RouterLink>
          </div>
        </div>
      </section>
    </template>
  </section>
</template>

<style scoped>
.carcass {
  font-size: 15px;
  font-weight: 500;
}
.ask {
  max-width: 620px;
  margin: 12px 0 20px;
}
.species {
  margin-bottom: 24px;
}
.species > h2 {
  border-top: 4px solid var(--ink);
  padding: 8px 0 10px;
}
.regions {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
  gap: 20px 28px;
}
h3 {
  color: var(--ink-2);
  font-stretch: 84%;
  font-size: 13px;
  padding-bottom: 4px;
}
h3::first-letter {
  text-transform: uppercase;
}
.piece {
  display: flex;
  flex-direction: column;
  gap: 2px;
  padding: 10px 0;
  border-top: 1px solid var(--hairline);
  color: var(--ink);
  text-decoration: none;
  min-height: 56px;
}
.piece:hover strong {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.hits {
  list-style: none;
  margin: 0;
  padding: 0;
  max-width: 860px;
}
.hits li {
  border-top: 1px solid var(--hairline);
  padding: 4px 0;
}
.hits a {
  display: flex;
  align-items: baseline;
  gap: 8px;
  min-height: 48px;
  padding: 10px 0;
  color: var(--ink);
  text-decoration: none;
  flex-wrap: wrap;
}
.hits a:hover strong {
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
