<script setup lang="ts">
// What is off the piece, what is to come, and what is unaccounted for.
import { computed } from 'vue'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { percent, shortName } from '../words/shown'
import { slotFor } from './slots'
import { say } from '../words/say'

const props = defineProps<{
  board: S['Board']
  taken: Map<string, number>
  times: Map<string, number>
  pendingSum: number
  picked?: string
}>()
const emit = defineEmits<{ pick: [string] }>()
const { bare, unit } = useShop()
const closed = computed(() => props.board.state === 'closed')
/** Of a closed piece all that was lost, also inside what was opened; else what is not weighed off yet. */
const left = computed(() =>
  closed.value ? (props.board.balance.loss_g ?? 0) : props.board.balance.residual_g - props.pendingSum,
)
const leftPct = computed(() =>
  closed.value || !props.board.input_g ? (props.board.balance.loss_pct ?? 0) : (left.value / props.board.input_g) * 100,
)
</script>

<template>
  <div>
    <div class="sums">
      <span class="small"
        >Weighed off {{ bare(board.balance.output_g + pendingSum) }} of {{ bare(board.input_g ?? 0) }} {{ unit }}</span
      ><span />
      <strong>{{ closed ? say('Cutting and drip loss') : say('Not weighed yet') }}</strong>
      <strong class="n" data-test="residual"
        >{{ bare(left) }} {{ unit }}<span class="pct">{{ percent(leftPct) }}</span></strong
      >
    </div>
    <div class="list">
      <button
        v-for="e in board.expected"
        :key="e.key"
        type="button"
        class="item"
        :class="{ done: e.times + (times.get(slotFor(e)) ?? 0) >= e.want, picked: picked === e.key }"
        :data-key="e.key"
        @click="emit('pick', e.key)"
      >
        <span class="kind" :class="e.kind" aria-hidden="true" />
        <span class="name"
          >{{ shortName(e.name) }}<span v-if="e.want > 1" class="small"> {{ e.times }} of {{ e.want }}</span
          ><span v-else-if="e.times > 1" class="small"> × {{ e.times }}</span
          ><span v-else-if="e.block" class="small"> as it comes off</span
          ><span v-else-if="e.kind === 'ingredient'" class="small"> added</span
          ><span v-if="e.question" class="ask">{{ e.question }}</span></span
        >
        <span v-if="e.times || taken.has(slotFor(e))" class="n got">{{
          bare(e.taken_g + (taken.get(slotFor(e)) ?? 0))
        }}</span>
        <span v-else class="n small">about {{ bare(e.expected_g, 2) }}</span>
      </button>
    </div>
  </div>
</template>

<style scoped>
.list {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 10px;
  grid-auto-flow: dense;
}
.item {
  display: grid;
  grid-template-columns: 20px 1fr auto;
  align-items: center;
  gap: 6px;
  width: 100%;
  min-height: 56px;
  padding: 2px 6px;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  background: none;
  text-align: left;
  cursor: pointer;
  font-stretch: 86%;
  line-height: 1.15;
}
.name {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 3;
  overflow: hidden;
}
.item.picked {
  background: var(--act-wash);
  box-shadow: inset 4px 0 0 var(--act);
  padding-left: 10px;
}
.item.done .name {
  color: var(--ink-2);
}
.got {
  font-weight: 700;
  font-size: 18px;
}
.n {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.name .small {
  margin-left: 6px;
}
.ask {
  display: block;
  font-size: 13px;
  color: var(--act);
  font-weight: 600;
  line-height: 1.2;
}
.sums {
  display: grid;
  grid-template-columns: 1fr auto;
  padding: 0 6px 8px;
  border-bottom: 1px solid var(--ink);
  font-size: 15px;
}
.pct {
  font-size: 15px;
  font-weight: 600;
  margin-left: 12px;
  color: var(--ink-2);
}
.sums strong {
  font-size: 24px;
  line-height: 1.1;
}
</style>
