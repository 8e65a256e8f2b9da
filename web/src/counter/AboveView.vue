<script setup lang="ts">
// What hangs above a counter: read from across the shop, kept up to date by itself.
import { computed } from 'vue'
import StateNote from '../components/StateNote.vue'
import { asProblem } from '../api/problem'
import type { S } from '../api/client'
import { percent } from '../words/shown'
import { useScreen } from './useCounter'
import { say } from '../words/say'

const props = defineProps<{ link: string }>()
const { data: s, error, isLoading, refetch } = useScreen(() => props.link)
const gone = computed(() => error.value && asProblem(error.value).status === 404)
const titles: Record<string, string> = { beef: say('Beef'), lamb: say('Lamb'), deer: say('Venison') }
const groups = computed(() => {
  const out = new Map<string, S['ScreenThing'][]>()
  for (const t of s.value?.things ?? []) out.set(t.species, [...(out.get(t.species) ?? []), t])
  const place = (species: string) => (species in titles ? Object.keys(titles).indexOf(species) : 9)
  return [...out].sort((a, b) => place(a[0]) - place(b[0]))
})
</script>

<template>
  <section class="above">
    <div v-if="gone" class="stack">
      <h1>There is nothing at this link</h1>
      <p>It was taken down, or another was made. Ask for the new one.</p>
    </div>
    <StateNote v-else :error="error" :loading="isLoading" what="what there is" @retry="refetch()" />
    <template v-if="s">
      <h1>{{ s.shop }}</h1>
      <p v-if="!s.things.length">Nothing lies in the counter just now.</p>
      <section v-for="[species, things] in groups" :key="species" :aria-label="titles[species] ?? species">
        <h2>{{ titles[species] ?? say('More') }}</h2>
        <ul>
          <li v-for="t in things" :key="t.name + (t.lawful ?? '')">
            <span class="name"
              ><strong>{{ t.name }}</strong
              ><small v-if="t.lawful">{{ t.lawful }}</small></span
            >
            <span class="price"
              ><small v-if="t.off_pct" class="off">{{ percent(t.off_pct, 0) }} off</small>{{ t.price ?? ''
              }}<small>{{ t.per }}</small></span
            >
            <small class="lines">{{ t.lines.join(' · ') }}</small>
          </li>
        </ul>
      </section>
    </template>
  </section>
</template>

<style scoped>
.above {
  padding: 2vw 3vw;
  font-size: clamp(17px, 1.5vw, 30px);
}
h1 {
  font-size: 1.6em;
}
h2 {
  margin: 0.8em 0 0.2em;
  border-bottom: 4px solid var(--ink);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 2;
  column-gap: 3vw;
}
li {
  break-inside: avoid;
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 1em;
  padding: 0.4em 0;
  border-bottom: 1px solid var(--hairline);
}
small {
  color: var(--ink-2);
  font-size: 0.66em;
}
.name small,
.price small:last-child {
  margin-left: 0.6em;
}
.price {
  font-weight: 700;
  font-variant-numeric: tabular-nums;
  text-align: right;
}
.off {
  color: var(--act);
  margin-right: 0.7em;
  font-weight: 650;
}
.lines {
  grid-column: 1 / -1;
}
@media (max-width: 800px) {
  ul {
    columns: 1;
  }
}
</style>
