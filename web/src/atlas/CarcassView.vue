<script setup lang="ts">
// A carcass and its division: how much of it each piece is, how it is taken apart, and what else could be pulled.
import { computed } from 'vue'
import StateNote from '../components/StateNote.vue'
import { useShop } from '../shell/shop'
import { percent } from '../words/shown'
import { useCarcasses } from './useCarcasses'
import { useTitle } from '../shell/title'
import { say } from '../words/say'

const props = defineProps<{ carcass: string }>()
const { mass } = useShop()
const { data: all, error, isLoading, refetch } = useCarcasses()
const c = computed(() => all.value?.find((x) => x.id === props.carcass))
const rows = computed(() => {
  if (!c.value) return []
  const of = (share: number) => (c.value!.typical_g * share) / 100
  return [
    ...c.value.parts.map((p) => ({
      id: p.piece,
      name: p.name,
      piece: true,
      kind: 'meat',
      share: p.share_pct,
      count: p.count,
      g: of(p.share_pct),
    })),
    ...c.value.other.map((o) => ({
      id: o.id,
      name: o.name,
      piece: false,
      kind: o.kind as string,
      share: o.share_pct,
      count: 0,
      g: of(o.share_pct),
    })),
  ].sort((a, b) => Number(b.piece) - Number(a.piece) || b.share - a.share)
})
const widest = computed(() => Math.max(...rows.value.map((r) => r.share), 1))

useTitle(() => c.value?.name)
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the carcass" @retry="refetch()" />
    <p v-if="all && !c">
      There is no such carcass in the atlas. <RouterLink :to="{ name: 'atlas' }">Back to the atlas</RouterLink>
    </p>
    <template v-if="c">
      <p class="label">{{ c.species }}</p>
      <h1 class="sentence big">{{ c.name }}</h1>
      <p>
        {{ c.name === c.house_name ? '' : `${c.house_name}. ` }}{{ mass(c.low_g, 0) }} to {{ mass(c.high_g, 0) }},
        usually {{ mass(c.typical_g, 0) }}. {{ c.arrives.charAt(0).toUpperCase() + c.arrives.slice(1) }}.
      </p>
      <div class="lay">
        <div>
          <h2>What a usual one comes to</h2>
          <table v-wide>
            <thead>
              <tr>
                <th>Piece</th>
                <th class="n">Share</th>
                <th class="n">Weight</th>
                <th class="bars"><span class="vh">Share as a bar</span></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="r in rows" :key="r.id" :class="{ other: !r.piece }">
                <td>
                  <RouterLink v-if="r.piece" :to="{ name: 'atlas-piece', params: { piece: r.id } }">{{
                    r.name
                  }}</RouterLink><template v-else>{{ r.name }}</template
                  ><span v-if="r.count > 1" class="small"> × {{ r.count }}</span>
                </td>
                <td class="n">{{ percent(r.share) }}</td>
                <td class="n">{{ mass(r.g, r.g < 3000 ? 2 : 1) }}</td>
                <td class="bars">
                  <span class="bar kind" :class="r.kind" :style="{ width: `${(r.share / widest) * 100}%` }" />
                </td>
              </tr>
            </tbody>
          </table>
          <h2 class="gap">Other divisions</h2>
          <p class="small">A carcass takes one division; these take the place of what is named.</p>
          <dl>
            <template v-for="(i, n) in c.instead" :key="n"
              ><dt>
                {{ i.pieces.map((p) => p.name).join(say(' and ')) }}
                <span class="small">instead of {{ i.of.map((p) => p.name).join(say(' and ')) }}</span>
              </dt>
              <dd>{{ i.note }}</dd></template
            >
          </dl>
        </div>
        <div>
          <h2>Take care</h2>
          <ul>
            <li v-for="x in c.cautions" :key="x">{{ x }}</li>
          </ul>
          <p class="small">Local codes and licensed practice come first.</p>
          <h2 class="gap">How it is divided</h2>
          <ol>
            <li v-for="d in c.divide" :key="d">{{ d }}</li>
          </ol>
          <h2 class="gap">Ways to cut the whole</h2>
          <dl>
            <template v-for="p in c.plans" :key="p.id"
              ><dt>
                {{ p.name }} <span class="small">{{ p.minutes }} minutes, one run</span>
              </dt>
              <dd>{{ p.why }}</dd></template
            >
          </dl>
          <h2 class="gap">What sells when</h2>
          <dl>
            <template v-for="s in c.seasons" :key="s.when"
              ><dt>{{ s.when.charAt(0).toUpperCase() + s.when.slice(1) }}</dt>
              <dd>{{ s.sells.join(', ') }}; slow: {{ s.slow.join(', ') }}. {{ s.advice }}</dd></template
            >
          </dl>
        </div>
      </div>
      <p class="small">Basis: {{ c.basis }}.</p>
    </template>
  </section>
</template>

<style scoped>
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr);
  gap: 48px;
  margin: 16px 0;
  align-items: start;
}
.other td {
  color: var(--ink-2);
}
.bars {
  width: 30%;
}
.bar {
  height: 12px;
  display: block;
  border-color: var(--ink);
}
.bar.meat {
  background: var(--act);
  border-color: var(--act);
}
.gap {
  margin-top: 22px;
}
dt {
  font-weight: 650;
  margin-top: 10px;
}
dd {
  margin: 2px 0 0;
  color: var(--ink-2);
}
ul,
ol {
  padding-left: 20px;
  margin: 8px 0;
}
li {
  margin: 5px 0;
}
@media (max-width: 900px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
