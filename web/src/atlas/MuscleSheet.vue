<script setup lang="ts">
// One muscle: how its fibres run (drawn), how it eats, what it can become, and where each plan sends it.
import { computed } from 'vue'
import type { S } from '../api/client'
import { percent, shortName } from '../words/shown'
import { gradeName } from '../grades/grades'
import PortionBox from '../body/PortionBox.vue'
import HouseNotes from '../learn/HouseNotes.vue'
import { useHouseNotes } from '../learn/useLearning'
import { useMe } from '../shell/me'
import GrainPicture from './GrainPicture.vue'
import { say } from '../words/say'

const props = defineProps<{ muscle: S['Muscle']; piece: S['AtlasPiece'] }>()
const emit = defineEmits<{ pick: [string] }>()
/** What the house says of a step, who leads the cutting writes. */
const { leads } = useMe()
const { data: notes } = useHouseNotes(() => props.piece.id)
const said = computed(() => (notes.value ?? []).filter((n) => n.step === props.muscle.id))
const nameOf = (id: string) => props.piece.muscles.find((m) => m.id === id)?.market_name ?? id
const called = computed(() =>
  Object.entries(props.muscle.names)
    .map(([market, names]) => `${market}: ${names.join(', ')}`)
    .join(' · '),
)
const tough = ['', say('tough'), say('firm'), say('medium'), say('tender'), say('very tender')]
const uses = computed(() => {
  const out: { plan: string; goes: string[] }[] = []
  for (const u of props.muscle.uses) {
    let o = out.find((x) => x.plan === u.plan_name)
    if (!o) out.push((o = { plan: u.plan_name, goes: [] }))
    o.goes.push(`${u.product} ${percent(u.pct, 0)}`)
  }
  return out
})
</script>

<template>
  <article class="sheet">
    <h2>{{ muscle.market_name }}</h2>
    <p class="small">
      {{ muscle.market_name === muscle.name ? '' : `${muscle.name} · ` }}<em>{{ muscle.anatomical }}</em
      >{{ called ? ` · ${called}` : '' }}
    </p>
    <div class="two">
      <GrainPicture :direction="muscle.grain_direction" :texture="muscle.texture" />
      <div class="stack">
        <p>
          <strong
            >{{ muscle.texture.charAt(0).toUpperCase() + muscle.texture.slice(1) }} grain,
            {{ muscle.grain_direction }}.</strong
          >
          {{ muscle.grain }}
        </p>
        <p class="small">
          {{ tough[muscle.tenderness] }} ({{ muscle.tenderness }} of 5) · connective tissue {{ muscle.connective }} ·
          quick cooking from day {{ muscle.min_age_days }} · full dressing takes {{ percent(muscle.dressing_pct, 0) }}
        </p>
      </div>
    </div>
    <h3>Finding the seam</h3>
    <p>
      {{ muscle.tell }} <span class="fault">{{ muscle.danger }}</span>
    </p>
    <p class="small">
      {{ muscle.after.length ? say`After ${muscle.after.map(nameOf).join(', ')}.` : say('Can come off first.') }} Beside
      it:
      <template v-for="(t, i) in muscle.touches" :key="t"
        ><button type="button" class="link" @click="emit('pick', t)">{{ shortName(nameOf(t)) }}</button
        >{{ i < muscle.touches.length - 1 ? ', ' : '.' }}</template
      >
    </p>
    <h3>How it eats</h3>
    <p class="eats">
      <span v-for="e in muscle.eating" :key="e.method" class="grade" :class="`g-${e.grade}`"
        >{{ e.name }} <strong>{{ e.score.toFixed(0) }}</strong><span class="vh">, {{ gradeName(e.grade) }}</span></span
      >
    </p>
    <template v-for="e in muscle.ends" :key="e.id">
      <p class="end">
        <strong>{{ e.name }}</strong>, {{ percent(e.share_pct, 0) }} of it: {{ e.why }}.
      </p>
      <p v-if="e.eating?.length" class="eats">
        <span v-for="x in e.eating" :key="x.method" class="grade" :class="`g-${x.grade}`"
          >{{ x.name }} <strong>{{ x.score.toFixed(0) }}</strong><span class="vh"
            >, {{ gradeName(x.grade) }}</span
          ></span
        >
      </p>
    </template>
    <p class="small">Estimates from the atlas, 0 to 100; no eaters stand behind them yet.</p>
    <p><strong>Judgement.</strong> {{ muscle.judge }}</p>
    <h3>Where it goes</h3>
    <table v-wide>
      <tbody>
        <tr v-for="u in uses" :key="u.plan">
          <td>{{ u.plan }}</td>
          <td>{{ u.goes.join(', ') }}</td>
        </tr>
      </tbody>
    </table>
    <PortionBox
      :key="muscle.id"
      :piece="piece.id"
      :part="muscle.id"
      :weight-g="(piece.typical_g * muscle.share_pct) / 100"
    />
    <template v-if="said.length || leads">
      <h3>The house says</h3>
      <HouseNotes :notes="said" :about="{ piece: piece.id, step: muscle.id }" :may="leads" />
    </template>
  </article>
</template>

<style scoped>
.sheet {
  display: flex;
  flex-direction: column;
  gap: 10px;
  border-left: 1px solid var(--hairline);
  padding-left: 32px;
}
.two {
  display: grid;
  grid-template-columns: 120px minmax(0, 1fr);
  gap: 18px;
  align-items: center;
}
.eats {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.link {
  border: 0;
  background: none;
  padding: 0;
  color: var(--act);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
}
td:first-child {
  width: 42%;
}
@media (max-width: 900px) {
  .sheet {
    border-left: 0;
    padding-left: 0;
    border-top: 1px solid var(--hairline);
    padding-top: 14px;
  }
}
</style>
