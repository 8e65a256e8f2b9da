<script setup lang="ts">
// What the hand needs to know now: before the first cut the cautions and what was found; then the seam's tell and danger.
import { computed } from 'vue'
import { shortName } from '../shell/shop'
import type { S } from '../api/client'

const props = defineProps<{ board: S['Board']; target?: S['Expected']; opened: boolean }>()
const words = computed(() => (props.target ? props.board.fixed?.words[props.target.id] : undefined))
const names = computed(() => Object.fromEntries(props.board.expected.map((e) => [e.id, shortName(e.name)])))
</script>

<template>
  <div class="words" aria-live="polite">
    <template v-if="!opened">
      <template v-if="board.fixed?.findings.length"><h2>Found on this piece</h2><p v-for="f in board.fixed?.findings" :key="f.id" class="danger">{{ f.do }}</p></template>
      <h2>Before the first cut</h2>
      <ul><li v-for="c in board.fixed?.cautions" :key="c">{{ c }}</li></ul>
      <p class="small">Local codes and your own training come first.</p>
    </template>
    <template v-else-if="target && board.state !== 'closed'">
      <h2>{{ target.name }}</h2>
      <p v-if="target.waits_for.some((w) => !board.expected.find((e) => e.id === w)?.times)" class="danger">Lies under {{ target.waits_for.map((w) => names[w]).join(', ') }}. Take that off first; if you cut it now, it is noted.</p>
      <p v-if="words"><span class="lead">Find it</span>{{ words.tell }}</p>
      <p v-if="words" class="danger"><span class="lead">What goes wrong</span>{{ words.danger }}</p>
      <p v-if="words?.dressing_pct" class="small">Full dressing takes about {{ words.dressing_pct }} % of it (estimated).</p>
      <p v-if="!words" class="small">Weigh it together, or as it comes; weights of the same kind add up.</p>
    </template>
    <p v-else-if="board.state !== 'closed'">Everything that was expected is weighed. Feel the board once more for scraps, then finish.</p>
  </div>
</template>

<style scoped>
.words { font-size: 15px; display: flex; flex-direction: column; gap: 6px; max-width: 68ch; }
ul { margin: 0; padding-left: 20px; }
.lead { display: block; font-size: 13px; font-stretch: 82%; font-weight: 650; color: var(--ink-2); }
.danger .lead { color: var(--act); }
.danger { color: var(--act); font-weight: 600; }
</style>
