<script setup lang="ts">
// The atlas: a carcass to touch, its pieces beside it by region, and one box that finds anything by any name.
import { keyOf } from '../api/keys'
import { speciesNames } from '../words/species'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { useAddressForm } from '../components/useAddressForm'
import { data, GET, type S } from '../api/client'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { foundBy } from '../words/markets'
import CarcassMap from './CarcassMap.vue'
import { useAtlasPieces } from './useAtlasPieces'
import { useCarcasses } from './useCarcasses'

const router = useRouter()
const { mass } = useShop()
const { data: pieces, error, isLoading, refetch } = useAtlasPieces()
const { data: carcasses, error: carcassError } = useCarcasses()
const asked = useAddressForm({ species: 'beef', division: 'usual', q: '' })
const question = ref(asked.q)
let timer: ReturnType<typeof setTimeout> | undefined
watch(
  () => asked.q,
  (t) => {
    clearTimeout(timer)
    timer = setTimeout(() => (question.value = t.trim().slice(0, 80)), 120)
  },
)
const { data: hits, error: searchError } = useQuery({
  queryKey: keyOf('atlas-search', question),
  enabled: () => question.value !== '',
  placeholderData: (old) => old,
  queryFn: () => data(GET('/atlas/search', { params: { query: { q: question.value } } })),
})

const known = Object.keys(speciesNames)
const rank = (s: string) => (known.includes(s) ? known.indexOf(s) : known.length)
const species = computed(() => [...new Set(pieces.value?.map((p) => p.species))].sort((a, b) => rank(a) - rank(b)))
const carcass = computed(() => carcasses.value?.find((c) => c.species === asked.species))
const regions = computed(() => {
  const out = new Map<string, S['AtlasEntry'][]>()
  for (const p of pieces.value ?? []) {
    if (p.species !== asked.species) continue
    const name = p.region.split(',')[0]!.trim()
    out.set(name, [...(out.get(name) ?? []), p])
  }
  return [...out]
})
watch(
  () => asked.species,
  () => (asked.division = 'usual'),
)
const division = computed({
  get: () => carcass.value?.divisions.find((d) => d.id === asked.division)?.id ?? 'usual',
  set: (id) => (asked.division = id),
})
const pointed = ref<string>()
const open = (piece: string) => router.push({ name: 'atlas-piece', params: { piece } })

const count = computed(() => pieces.value?.reduce((n, p) => n + p.muscles, 0) ?? 0)
const facts = (p: S['AtlasEntry']) =>
  [
    mass(p.typical_g, 1),
    counted(p.muscles, 'muscle') + (p.bone_in ? say(', bone in') : ''),
    counted(p.plans, 'plan'),
    ...Object.entries(p.codes).map(([k, v]) => `${k.toUpperCase()} ${v}`),
  ].join(' · ')
const whats: Record<S['PieceHit']['kind'], string> = {
  piece: '',
  muscle: say('muscle of'),
  part: say('part of'),
  product: say('made of'),
}
const what = (h: S['PieceHit']) => whats[h.kind]
</script>

<template>
  <section class="page">
    <h1 class="sentence">{{ pieces ? say`${pieces.length} pieces, ${count} muscles.` : say('The atlas') }}</h1>
    <div class="ask">
      <FormField id="ask" label="Find anything by any name: house, market, Latin, item number"
        ><InputText
          id="ask"
          v-model="asked.q"
          type="search"
          autofocus
          autocomplete="off"
          placeholder="rump cap, biceps femoris, 184, picanha, flat irn"
      /></FormField>
    </div>
    <StateNote :error="error ?? carcassError ?? searchError" :loading="isLoading" what="the atlas" @retry="refetch()" />
    <template v-if="question">
      <ul v-if="hits?.length" class="hits">
        <li v-for="h in hits" :key="h.id">
          <RouterLink
            :to="{ name: 'atlas-piece', params: { piece: h.id }, ...(h.kind === 'muscle' && { hash: `#${h.part}` }) }"
          >
            <strong>{{ h.part_name }}</strong> <span v-if="what(h)">{{ what(h) }} {{ h.name }}</span>
            <span class="small">{{ h.near ? say('perhaps ') : '' }}“{{ h.matched }}”, {{ foundBy(h.why) }}</span>
          </RouterLink>
          <p v-if="h.other_meanings.length" class="fault">
            This name does not mean the same everywhere. {{ h.other_meanings.join('; ') }}.
          </p>
        </li>
      </ul>
      <p v-else-if="hits" class="small">Nothing in the atlas bears that name, nor one like it.</p>
    </template>
    <template v-else-if="pieces">
      <div class="row which">
        <UnitToggle v-model="asked.species" :options="species" :names="speciesNames" label="Species" />
        <FormField v-if="carcass && carcass.divisions.length > 1" id="division" label="Divided into"
          ><PickOne id="division" v-model="division" :options="carcass.divisions"
        /></FormField>
      </div>
      <div class="lay">
        <figure v-if="carcass" class="animal">
          <CarcassMap
            :carcass="carcass"
            :division="division"
            :marked="pointed"
            pickable
            data-test="animal"
            @pick="open"
            @point="(id) => (pointed = id)"
          />
          <figcaption class="small">
            Touch a piece. Areas are true to its usual weight; bone, fat and trim, which have no place of their own, are
            left out.
            <RouterLink :to="{ name: 'carcass', params: { carcass: carcass.id } }"
              >{{ carcass.name }}: how it is divided</RouterLink
            >
          </figcaption>
        </figure>
        <div class="list">
          <section v-for="[name, list] in regions" :key="name" class="region">
            <h2>{{ name }}</h2>
            <RouterLink
              v-for="p in list"
              :key="p.id"
              class="piece"
              :class="{ on: pointed === p.id }"
              :to="{ name: 'atlas-piece', params: { piece: p.id } }"
              @pointerenter="pointed = p.id"
              @pointerleave="pointed = undefined"
              @focus="pointed = p.id"
              @blur="pointed = undefined"
            >
              <span
                ><strong>{{ p.name }}</strong>
                <span v-if="p.name !== p.house_name" class="small">{{ p.house_name }}</span></span
              >
              <span class="small">{{ facts(p) }}</span>
            </RouterLink>
          </section>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.ask {
  max-width: 620px;
  margin: 12px 0 16px;
}
.which {
  align-items: end;
  gap: 12px 24px;
  flex-wrap: wrap;
  margin-bottom: 12px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1.9fr) minmax(280px, 1fr);
  gap: 36px;
  align-items: start;
}
.animal {
  margin: 0;
  position: sticky;
  top: 76px;
}
.animal figcaption {
  margin-top: 10px;
}
h2 {
  color: var(--ink-2);
  font-stretch: 84%;
  font-size: 13px;
  padding: 12px 0 4px;
}
.region:first-child h2 {
  padding-top: 0;
}
h2::first-letter {
  text-transform: uppercase;
}
.piece {
  display: flex;
  flex-direction: column;
  gap: 1px;
  padding: 7px 8px;
  border-top: 1px solid var(--hairline);
  color: var(--ink);
  text-decoration: none;
  min-height: 52px;
}
.piece.on {
  background: var(--act-wash);
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

@media (max-width: 900px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
  .animal {
    position: static;
  }
}
</style>
