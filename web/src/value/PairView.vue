<script setup lang="ts">
// One side against the first: which muscle, which cause, what would turn it, and how much must sell.
import { computed } from 'vue'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { minus, percent, shortName } from '../words/shown'
import BarList from './BarList.vue'
import { say } from '../words/say'

const props = defineProps<{ desk: S['Desk']; pair: S['DeskPair']; margin: number }>()
const { money, perUnit, pricePer, unit, unitWord } = useShop()
const a = computed(() => props.desk.alternatives[props.pair.a]!)
const b = computed(() => props.desk.alternatives[props.pair.b]!)
const kilo = (v: string, sign = true) => money(perUnit(v), sign)
const bars = (steps: S['BridgeStep'][]) =>
  steps
    .filter((s) => Math.abs(Number(s.change)) >= 0.005)
    .map((s) => ({ name: shortName(s.name), value: Number(s.change), text: kilo(s.change) }))
const muscles = computed(() => bars(props.pair.by_muscle))
const causes = computed(() => bars(props.pair.by_cause))
const near = computed(() =>
  props.pair.turns.filter((t) => t.possible && Math.abs(t.change_pct ?? 0) <= 100).slice(0, 8),
)
const names = {
  price: say('Price of'),
  yield: say('Yield of'),
  minutes: say('Bench minutes per piece'),
  labour_rate: say('Labour per hour'),
}
const figure = (t: S['DeskTurn'], v: number) =>
  ({ price: pricePer(v), yield: percent(v), minutes: v.toFixed(1), labour_rate: money(v) })[t.kind]
const turns = computed(() =>
  near.value.map((t) => ({
    name:
      t.kind === 'price' || t.kind === 'yield' ? `${names[t.kind]} ${shortName(t.name).toLowerCase()}` : names[t.kind],
    value: t.change_pct ?? 0,
    text: `${(t.change_pct ?? 0) > 0 ? '+' : ''}${minus((t.change_pct ?? 0).toFixed(0))} %`,
    note: say`now ${figure(t, t.now)}, turns at ${figure(t, t.at ?? 0)}`,
  })),
)
const sellWord = (s: S['DeskSell']) =>
  s.ok ? percent(s.sells_pct ?? 0, 0) : s.always ? say('none need sell') : say('all is not enough')
const even = (key: string) => props.pair.even.find((e) => e.key === key)
</script>

<template>
  <article class="pair">
    <h2 class="sentence" data-test="pair-sentence">{{ pair.sentence }}</h2>
    <p v-if="pair.repriced_per_kg" class="anew" data-test="anew">
      <strong>{{ desk.today ? say('At the prices of their day') : say('At today’s prices') }}:</strong>
      {{ kilo(pair.repriced_per_kg) }} a {{ unitWord }}, instead of {{ kilo(pair.per_kg) }}.
    </p>
    <dl class="figures">
      <div>
        <dt>a {{ unitWord }} of block</dt>
        <dd class="figure">{{ kilo(pair.per_kg) }}</dd>
      </div>
      <div>
        <dt>on the piece</dt>
        <dd class="figure">{{ money(pair.per_piece, true) }}</dd>
      </div>
      <div v-if="pair.per_hour">
        <dt>an extra bench hour</dt>
        <dd class="figure">{{ money(pair.per_hour, true) }}</dd>
      </div>
      <div v-if="pair.per_carcass_side">
        <dt>a {{ b.totals.carcass_side }}</dt>
        <dd class="figure">{{ money(pair.per_carcass_side, true) }}</dd>
      </div>
      <div>
        <dt>
          the block at most, cut as {{ String.fromCharCode(65 + pair.b) }}{{ margin ? say`, leaving ${margin} %` : '' }}
        </dt>
        <dd class="figure">{{ pricePer(b.max_block_price) }}</dd>
      </div>
    </dl>
    <div class="pictures">
      <BarList
        :bars="muscles"
        :title="say`Which muscle pays: from ${a.name} to ${b.name}, a ${unitWord}`"
        data-test="by-muscle"
      />
      <BarList :bars="causes" title="Which cause: prices, yield, what it is sold as, work" data-test="by-cause" />
    </div>
    <div class="pictures">
      <BarList
        v-if="turns.length"
        :bars="turns"
        title="What would change the answer: how far each figure may go by itself"
        data-test="turns"
      />
      <p v-else>No single price, yield, minute or wage turns it within twice what it is now.</p>
      <table v-if="pair.sell_through.length" v-wide class="sell" data-test="sell">
        <caption>
          How much must sell at its full price
        </caption>
        <thead>
          <tr>
            <th>Product</th>
            <th class="n">Sells at</th>
            <th class="n">Break-even at</th>
            <th class="n">Must sell</th>
            <th>The rest becomes</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in pair.sell_through" :key="s.key">
            <td>{{ shortName(s.name) }}</td>
            <td class="n">{{ pricePer(s.price) }}</td>
            <td class="n">{{ even(s.key)?.at ? pricePer(even(s.key)!.at!) : '–' }}</td>
            <td class="n">
              <strong>{{ sellWord(s) }}</strong>
            </td>
            <td class="small">
              {{
                s.chain
                  .map((m, i) => `${shortName(m.name ?? '')}${i < s.chain.length - 1 ? ` (${m.sells_pct} %)` : ''}`)
                  .join(say(', then ')) || say('nothing')
              }}: {{ pricePer(s.rest) }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <details class="small">
      <summary>Every step, a {{ unit }} of block</summary>
      <table v-wide>
        <thead>
          <tr>
            <th>Muscle, by-product or cost</th>
            <th class="n">A</th>
            <th class="n">{{ String.fromCharCode(65 + pair.b) }}</th>
            <th class="n">Change</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in pair.by_muscle" :key="s.id">
            <td>{{ s.name }}</td>
            <td class="n">{{ kilo(s.from, false) }}</td>
            <td class="n">{{ kilo(s.to, false) }}</td>
            <td class="n">{{ kilo(s.change) }}</td>
          </tr>
          <tr class="total">
            <td colspan="3">Altogether</td>
            <td class="n">{{ kilo(pair.per_kg) }}</td>
          </tr>
        </tbody>
      </table>
    </details>
  </article>
</template>

<style scoped>
.pair {
  margin-top: 20px;
}
.sentence {
  margin: 0 0 10px;
  font-size: 24px;
}
.anew {
  margin: 0 0 10px;
}
.figures {
  display: flex;
  gap: 10px 36px;
  flex-wrap: wrap;
  margin: 0 0 16px;
}
.figures dt {
  font-size: 13px;
  color: var(--ink-2);
  font-stretch: 86%;
}
.figures dd {
  margin: 2px 0 0;
}
.pictures {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 22px 36px;
  align-items: start;
  margin-bottom: 18px;
}
.sell caption {
  text-align: left;
}
.sell td,
.sell th {
  padding: 4px 6px;
}
.sell td:first-child,
.sell th:first-child {
  padding-left: 0;
}
summary {
  cursor: pointer;
  min-height: 36px;
  padding-top: 8px;
}
@media (max-width: 1000px) {
  .pictures {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
