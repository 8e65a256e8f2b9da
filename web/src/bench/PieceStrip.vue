<script setup lang="ts">
// The pieces that are cut together: what each weighs, what is off it, and whose turn it is.
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { percent } from '../words/shown'
import { say } from '../words/say'

defineProps<{ boards: S['Board'][]; turn: string[]; done: (b: S['Board']) => boolean }>()
const emit = defineEmits<{ pick: [string] }>()
const { bare, mass } = useShop()
</script>

<template>
  <ol class="strip" aria-label="The pieces">
    <li v-for="b in boards" :key="b.id">
      <button
        type="button"
        class="piece"
        :class="{ turn: turn.includes(b.id), done: done(b) }"
        :aria-pressed="turn.includes(b.id)"
        :data-piece="b.piece.number"
        @click="emit('pick', b.id)"
      >
        <span class="n">{{ b.piece.number }}</span><span class="w">{{
          b.input_g ? mass(b.input_g, 2) : say`label ${bare(b.piece.weight_g, 2)}`
        }}</span>
        <span class="small">{{
          b.state === 'waiting' ? say('not weighed') : say`${percent(b.balance.residual_pct)} left`
        }}</span>
      </button>
      <RouterLink class="own small" :to="{ name: 'bench', params: { breakdown: b.id } }">its own board</RouterLink>
    </li>
  </ol>
</template>

<style scoped>
.strip {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  max-height: 240px;
  overflow-y: auto;
}
.piece {
  display: grid;
  grid-template-columns: auto 1fr;
  column-gap: 8px;
  align-items: baseline;
  min-height: 56px;
  min-width: 116px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  padding: 6px 10px;
  cursor: pointer;
  text-align: left;
}
.piece .small {
  grid-column: 1 / -1;
}
.piece.turn {
  border: 3px solid var(--act);
  padding: 4px 8px;
  background: var(--act-wash);
}
.piece.done .w {
  color: var(--ink-2);
}
.n {
  font-weight: 750;
  font-size: 18px;
}
.w {
  font-weight: 650;
  font-variant-numeric: tabular-nums;
}
.own {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  padding: 0 4px;
}
</style>
