<script setup lang="ts">
// The best use of the pieces that are ready: how each is cut so that all of them together bring the most. It runs at
// once; a plan can be settled, a piece left for another day, and what that costs is said.
import { computed, onMounted } from 'vue'
import PvButton from 'primevue/button'
import ProgressBar from 'primevue/progressbar'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { minus, shortName } from '../words/shown'
import { counted, say } from '../words/say'
import type { S } from '../api/client'
import BestUseQuestion from './BestUseQuestion.vue'
import BestUseRow from './BestUseRow.vue'
import QuestionLine from '../components/QuestionLine.vue'
import ReportLinks from './ReportLinks.vue'
import { useBestUse } from './useBestUse'

const { mass, money, perUnit, pricePer, unit } = useShop()
const { may } = useMe()
const { form, pins, left, found, asked, busy, problem, solve, settle, takes, take, planned } = useBestUse()
onMounted(solve)
const fault = (f: string) => problem.value?.at(f) ?? ''
const trouble = computed(() => {
  const p = problem.value
  if (!p) return ''
  return fault('pieces') || fault('') || p.rest(['minutes', 'days', 'market']) || (p.errors.length ? '' : p.message)
})
const worth = (s: S['BestUseSale']) =>
  s.more_demand === undefined
    ? ''
    : Number(s.more_demand) < 0.005
      ? say('nothing')
      : money(perUnit(s.more_demand), true)
const asking = computed(() => {
  const orders = form.orders.filter((o) => o.product_key && o.weight.trim()).length
  const minutes = form.minutes.trim() ? say`${form.minutes} bench minutes` : say('no limit of bench minutes')
  return [
    minutes,
    say`sold in ${form.days} days`,
    orders ? counted(orders, 'order') : '',
    form.open ? say('open orders met') : '',
  ]
    .filter(Boolean)
    .join(', ')
})
const limit = computed(() => Number(asked.value.minutes ?? 0))
const used = computed(() => (limit.value ? Math.min(100, ((found.value?.minutes ?? 0) / limit.value) * 100) : 0))
</script>

<template>
  <h1 v-if="!found" class="sentence">
    {{ trouble ? say('Best use today') : say('Comparing every plan with every other…') }}
  </h1>
  <h1 v-else class="sentence" data-test="best-sentence">{{ found.sentence }}</h1>
  <QuestionLine :asked="asking" :wrong="!!problem?.errors.length">
    <BestUseQuestion v-model="form" :problem="problem" :busy="busy" @ask="solve" />
  </QuestionLine>
  <p v-if="trouble" class="fault" role="alert">{{ trouble }}</p>
  <ProgressBar v-if="busy" mode="indeterminate" class="busy" aria-label="Searching" />
  <template v-if="found">
    <dl class="figures">
      <div>
        <dt>brings, before meat cost</dt>
        <dd class="figure">{{ money(found.value) }}</dd>
      </div>
      <div>
        <dt>bench minutes{{ limit ? say` of ${limit}` : '' }}</dt>
        <dd class="figure">
          {{ found.minutes.toFixed(0) }}
          <ProgressBar v-if="limit" :value="used" :show-value="false" class="meter" aria-label="Bench minutes used" />
        </dd>
      </div>
      <div v-if="found.hour !== undefined && Number(found.hour) >= 0.005">
        <dt>one more bench hour is worth</dt>
        <dd class="figure">{{ money(found.hour, true) }}</dd>
      </div>
      <div>
        <dt>{{ found.proven ? say('checked') : say('at most') }}</dt>
        <dd class="figure">{{ found.proven ? say('best possible') : money(found.at_most) }}</dd>
      </div>
      <div v-if="found.pins_cost !== undefined" data-test="pins-cost">
        <dt>your choices cost</dt>
        <dd class="figure">{{ minus(money(found.pins_cost)) }}</dd>
      </div>
    </dl>
    <div class="row no-print acts">
      <PvButton
        v-if="takes.length && may('PUT /pieces/{piece_id}/plan')"
        :label="say`Apply to ${counted(takes.length, 'piece')}`"
        :disabled="busy"
        data-test="take"
        @click="take"
      />
      <span v-else-if="planned" role="status">All pieces are planned so.</span>
      <span v-for="[id, name] in left" :key="id" class="left"
        >{{ name }} not today <PvButton text label="Take in again" @click="left.delete(id)"
      /></span>
    </div>
    <div class="lay">
      <section>
        <h2>Each piece</h2>
        <table v-wide data-test="best-pieces">
          <thead>
            <tr>
              <th>Piece</th>
              <th>Plan</th>
              <th>Why</th>
            </tr>
          </thead>
          <tbody>
            <BestUseRow
              v-for="p in found.pieces"
              :key="p.piece.id"
              :row="p"
              :may="may('PUT /pieces/{piece_id}/plan')"
              @settle="settle(p, $event)"
              @release="pins.delete(p.piece.id)"
            />
          </tbody>
        </table>
      </section>
      <section>
        <h2>What it gives</h2>
        <div v-wide class="scroll">
          <table v-wide data-test="best-sales">
            <thead>
              <tr>
                <th>Product</th>
                <th class="n">Cut</th>
                <th class="n">Sells</th>
                <th class="n">Ordered</th>
                <th class="n">Beyond</th>
                <th class="n">Brings</th>
                <th class="n">Selling 1 {{ unit }} more</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="s in found.sales" :key="s.key">
                <td>
                  {{ shortName(s.name) }} <span class="small">{{ pricePer(s.price) }}</span>
                </td>
                <td class="n">{{ mass(s.weight_g, 2) }}</td>
                <td class="n">{{ s.cap_g === undefined ? say('all') : mass(s.cap_g, 1) }}</td>
                <td class="n">{{ s.order_g ? mass(s.order_g, 1) : '' }}</td>
                <td class="n">
                  {{ s.fallback_g ? say`${mass(s.fallback_g, 2)} at ${pricePer(s.fallback ?? 0)}` : '' }}
                </td>
                <td class="n">{{ money(s.value) }}</td>
                <td class="n">{{ worth(s) }}</td>
              </tr>
              <tr class="total">
                <td colspan="5">Sales altogether</td>
                <td class="n">{{ money(found.brought) }}</td>
                <td />
              </tr>
              <tr>
                <td colspan="5">Labour, packaging and waste</td>
                <td class="n">{{ money(-Number(found.costs)) }}</td>
                <td />
              </tr>
              <tr class="total">
                <td colspan="5">Brings, before meat cost</td>
                <td class="n">{{ money(found.value) }}</td>
                <td />
              </tr>
            </tbody>
          </table>
        </div>
      </section>
    </div>
    <p v-for="n in found.notes" :key="n" class="small">{{ n }}</p>
    <ReportLinks :ask="{ kind: 'best_use', best_use: asked }" />
  </template>
</template>

<style scoped>
.busy {
  height: 4px;
  margin-bottom: 10px;
}
.meter {
  height: 8px;
  margin-top: 6px;
  min-width: 140px;
}
.acts {
  margin-bottom: 14px;
}
.order {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: 6px;
}
.sentence {
  margin: 20px 0 12px;
}
.figures {
  display: flex;
  gap: 12px 40px;
  flex-wrap: wrap;
  margin: 0 0 14px;
}
.figures dt {
  font-size: 13px;
  color: var(--ink-2);
  font-stretch: 86%;
}
.figures dd {
  margin: 2px 0 0;
}
.row {
  margin-bottom: 16px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 36px;
  align-items: start;
}
h3 .small {
  font-weight: 400;
}
.scroll {
  overflow-x: auto;
}
td,
th {
  padding: 4px 6px;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
@media (max-width: 1000px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
  .ask {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
