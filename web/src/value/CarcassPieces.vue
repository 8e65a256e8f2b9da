<script setup lang="ts">
// Each piece of a carcass with what it is cut by, or sold at as it is; the other of a pair may be cut its own way.
import InputText from 'primevue/inputtext'
import PickOne from '../components/PickOne.vue'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { say } from '../words/say'

type Piece = S['CarcassPieceValue']

defineProps<{ pieces: Piece[]; fault: (field: string) => string }>()
/** Piece to plan, where that is another than the plan of the whole. */
const plans = defineModel<Record<string, string>>('plans', { required: true })
const otherSide = defineModel<Record<string, string>>('otherSide', { required: true })
const soldWhole = defineModel<Record<string, string>>('soldWhole', { required: true })
const { mass, money, unit } = useShop()

const WHOLE = 'whole'
const choices = (p: Piece) => [...p.plans, { id: WHOLE, name: say('Sold whole, as it is') }]
const has = (list: Record<string, string>, piece: string) => list[piece] !== undefined
const without = (list: Record<string, string>, piece: string) =>
  Object.fromEntries(Object.entries(list).filter(([k]) => k !== piece))

function pick(p: Piece, plan: string) {
  if (p.side) otherSide.value = { ...otherSide.value, [p.id]: plan }
  else plans.value = plan === p.planned_id ? without(plans.value, p.id) : { ...plans.value, [p.id]: plan }
}
/** The two of a pair are told apart, or brought together again. */
function part(p: Piece) {
  otherSide.value = has(otherSide.value, p.id)
    ? without(otherSide.value, p.id)
    : { ...otherSide.value, [p.id]: p.plan_id }
}
const partText = (p: Piece) => (p.count > 1 ? say('The two each its own way') : say('Every other one its own way'))
const at = (p: Piece) => (p.side ? `other_side.${p.id}` : `plans.${p.id}`)
</script>

<template>
  <table v-wide data-test="pieces">
    <thead>
      <tr>
        <th>Piece</th>
        <th class="n">Weight</th>
        <th>Cut by</th>
        <th class="n">Per carcass</th>
        <th class="n">The swap alone</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="p in pieces" :key="p.id + (p.side ?? '')">
        <td>
          {{ p.name }} <span v-if="p.count > 1" class="small">× {{ p.count }}</span>
          <template v-if="!p.side">
            <br />
            <button type="button" class="part no-print" :data-part="p.id" @click="part(p)">
              {{ has(otherSide, p.id) ? say('Both alike again') : partText(p) }}
            </button>
          </template>
        </td>
        <td class="n">{{ mass(p.weight_g, 2) }}</td>
        <td>
          <PickOne
            :model-value="p.plan_id"
            :label="say`Plan of ${p.name}`"
            :data-piece="p.id + (p.side ? ':other' : '')"
            :options="choices(p)"
            :invalid="!!fault(at(p))"
            @update:model-value="pick(p, $event)"
          />
          <p v-if="p.plan_id === WHOLE" class="sold">
            <label :for="`sold-${p.id}`">Sold at, per {{ unit }}</label>
            <InputText
              :id="`sold-${p.id}`"
              v-model.lazy="soldWhole[p.id]"
              inputmode="decimal"
              placeholder="price"
              :invalid="!!fault(`sold_whole.${p.id}`)"
              autocomplete="off"
            />
          </p>
          <p v-if="fault(at(p)) || fault(`sold_whole.${p.id}`)" class="fault" role="alert">
            {{ fault(at(p)) || fault(`sold_whole.${p.id}`) }}
          </p>
        </td>
        <td class="n">{{ money(p.sales) }}</td>
        <td class="n">
          <template v-if="p.gain"
            >{{ money(p.gain, true) }}
            <span class="small"
              >{{ p.extra_minutes > 0 ? '+' : '' }}{{ p.extra_minutes.toFixed(0) }} min</span
            ></template
          >
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
td,
th {
  padding: 4px 8px;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
.part {
  min-height: 44px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--act);
  font-size: 13px;
  text-decoration: underline;
  cursor: pointer;
}
.sold {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 6px 0 2px;
}
.sold input {
  width: 110px;
}
</style>
