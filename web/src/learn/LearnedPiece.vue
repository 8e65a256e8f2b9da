<script setup lang="ts">
// How far somebody is with a piece: drills, minutes over the pieces cut, practice pieces, steps that were signed off.
import { computed } from 'vue'
import ChartFrame from '../charts/ChartFrame.vue'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { moment, percent, plainDay } from '../words/shown'
import { curveChart, curveWords } from './curveChart'
import { say } from '../words/say'

const props = defineProps<{ piece: S['LearnedPiece']; own: boolean }>()
const { money } = useShop()
const curve = computed(() => props.piece.curve)
const cuts = computed(() => curve.value?.cuts ?? [])
const option = computed(() => curveChart(curve.value!))
const timed = computed(() => cuts.value.filter((c) => c.minutes > 0))
const points = computed(() => timed.value.map((_, i) => curveWords(curve.value!, i)))
const marks = computed(() => props.piece.practices)
const level = (n?: number) => ['', say('all words'), say('words when asked for'), say('no words')][n ?? 0]
</script>

<template>
  <div class="learned" data-test="learned">
    <div>
      <h2>Drills</h2>
      <table v-wide>
        <tbody>
          <tr v-for="g in piece.groups" :key="g.id">
            <td>
              <RouterLink v-if="own" :to="{ name: 'drill', query: { piece: piece.piece, group: g.id } }">{{
                g.name
              }}</RouterLink>
              <template v-else>{{ g.name }}</template>
            </td>
            <td class="bar"><span :style="{ width: `${(g.known / g.cards) * 100}%` }" /></td>
            <td class="n">{{ g.known }} of {{ g.cards }} known</td>
          </tr>
        </tbody>
      </table>
      <RouterLink
        v-if="own"
        class="begin"
        :to="{ name: 'drill', query: { piece: piece.piece } }"
        data-test="learn-piece"
        >{{ piece.asked ? say('Go on with this piece') : say('Begin with this piece') }}</RouterLink
      >
      <template v-if="piece.signed.length">
        <h2>Steps</h2>
        <ul class="steps">
          <li v-for="s in piece.signed" :key="s.step">
            <strong>{{ s.name }}</strong>: {{ s.signed ? say('signed off') : say('to practise') }}, {{ s.by }},
            {{ moment(s.at) }}.
            <span v-if="s.words">{{ s.words }}</span>
          </li>
        </ul>
      </template>
      <template v-if="marks.length">
        <h2>Practice pieces</h2>
        <ul class="steps">
          <li v-for="m in marks" :key="m.breakdown_id">
            <RouterLink :to="{ name: 'practice', params: { breakdown: m.breakdown_id! } }"
              >{{ m.lot_number }} / {{ m.piece_number }}</RouterLink
            >, {{ level(m.level) }}<template v-if="m.set_at">, {{ moment(m.set_at) }}</template>
          </li>
        </ul>
      </template>
    </div>
    <div v-if="curve">
      <h2>At the block</h2>
      <p data-test="curve-sentence">{{ curve.sentence }}</p>
      <ChartFrame
        v-if="timed.length >= 3"
        :option="option"
        :points="points"
        :file="`learning-${piece.piece}`"
        :label="say`Minutes of each ${piece.name} that was cut, with the curve through them`"
        :height="260"
      />
      <p v-if="timed.length >= 3" class="small">
        Minutes of each piece; the line is the curve through them, the dotted ones what its mean lies between (95 %).
      </p>
      <details>
        <summary>Piece by piece</summary>
        <table v-wide>
          <thead>
            <tr>
              <th>Piece</th>
              <th>Cut on</th>
              <th class="n">Minutes</th>
              <th class="n">Meat</th>
              <th class="n">Others</th>
              <th class="n">Against the others</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(c, i) in cuts" :key="c.breakdown_id">
              <td>{{ i + 1 }}</td>
              <td>{{ plainDay(c.on) }}</td>
              <td class="n">{{ c.minutes ? c.minutes.toFixed(1) : say('not timed') }}</td>
              <td class="n">{{ percent(c.meat_pct) }}</td>
              <td class="n">{{ c.house_pct === undefined ? '' : percent(c.house_pct) }}</td>
              <td class="n">{{ c.lost === undefined ? '' : money(-Number(c.lost), true) }}</td>
            </tr>
          </tbody>
        </table>
        <p class="small">
          Minutes are scaled to a piece of the usual weight. Against the others: value after packaging, labour and
          waste, before what the piece cost, beside the mean of everybody else by the same plan.
        </p>
      </details>
    </div>
  </div>
</template>

<style scoped>
.learned {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.3fr);
  gap: 12px 36px;
  padding: 8px 0 16px;
}
h2 {
  margin: 8px 0 4px;
}
.bar {
  width: 40%;
  min-width: 60px;
}
.bar span {
  display: block;
  height: 10px;
  min-width: 1px;
  background: repeating-linear-gradient(45deg, var(--ink-2) 0 3px, var(--surface) 3px 5px);
  border: 1px solid var(--ink-2);
}
.steps {
  margin: 0;
  padding-left: 18px;
}
.begin {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  font-weight: 650;
}
@media (max-width: 900px) {
  .learned {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
