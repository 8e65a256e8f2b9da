<script setup lang="ts">
// Muscle × cooking method: the grade large, the score behind it small. Arrow keys walk over it; what a cell shows
// further is the caller's.
import type { S } from '../api/client'
import { shortName } from '../words/shown'
import { gradeName } from './grades'
import { counted, say } from '../words/say'

export interface MatrixRow {
  part: string
  name: string
  under?: string
  cells: S['GradeCell'][]
  best: string
  chosen?: string
}

defineProps<{ methods: S['Method'][]; rows: MatrixRow[] }>()
const at = defineModel<{ part: string; method: string }>('at')
const cellOf = (r: MatrixRow, method: string) => r.cells.find((c) => c.method === method)
const mark = (r: MatrixRow, method: string) => (r.best === method ? 'best' : r.chosen === method ? 'chosen' : '')
const marked = (r: MatrixRow, method: string) => (r.chosen === undefined ? r.best === method : r.chosen === method)
const described = (r: MatrixRow, m: S['Method'], c: S['GradeCell']) =>
  [
    `${r.name}, ${m.name}: ${gradeName(c.grade)}`,
    say`score ${c.score}`,
    c.assessors ? say`${c.basis} of ${counted(c.assessors, 'eater')}` : c.basis,
    ...(r.best === m.id ? ['best'] : []),
    ...(r.chosen === m.id ? ['chosen'] : []),
  ].join(', ')

/** Arrow keys walk over the matrix; Tab leaves it for the details of the cell. */
function walk(e: KeyboardEvent) {
  const by = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[e.key]
  if (!by) return
  e.preventDefault()
  const here = (e.target as HTMLElement).closest<HTMLElement>('[data-cell]')
  const [r, c] = (here?.dataset.cell ?? '0,0').split(',').map(Number)
  for (let i = 1; i < 12; i++) {
    const next = document.querySelector<HTMLElement>(`[data-cell="${r! + by[0]! * i},${c! + by[1]! * i}"]`)
    if (next) return next.focus()
  }
}
</script>

<template>
  <table v-wide class="matrix" @keydown="walk">
    <thead>
      <tr>
        <th>Muscle</th>
        <th v-for="m in methods" :key="m.id" :class="{ quick: m.quick }">{{ m.name }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(r, y) in rows" :key="r.part">
        <th scope="row">
          <span class="name">{{ shortName(r.name) }}</span><span v-if="r.under" class="small">{{ r.under }}</span>
        </th>
        <td v-for="(m, x) in methods" :key="m.id">
          <button
            v-if="cellOf(r, m.id)"
            type="button"
            class="cell"
            :class="[
              `g-${cellOf(r, m.id)!.grade}`,
              { best: r.best === m.id, chosen: marked(r, m.id), at: at?.part === r.part && at?.method === m.id },
            ]"
            :data-cell="`${y},${x}`"
            :data-part="r.part"
            :data-method="m.id"
            :aria-pressed="r.chosen === undefined ? undefined : r.chosen === m.id"
            :tabindex="at?.part === r.part && at?.method === m.id ? 0 : -1"
            :aria-label="described(r, m, cellOf(r, m.id)!)"
            @click="at = { part: r.part, method: m.id }"
            @focus="at = { part: r.part, method: m.id }"
          >
            <span class="g">{{ cellOf(r, m.id)!.grade === 'below_3' ? '<3' : cellOf(r, m.id)!.grade }}</span><span
              class="score"
              >{{ cellOf(r, m.id)!.score.toFixed(0) }}</span
            ><span v-if="cellOf(r, m.id)!.assessors" class="n-eaters">n {{ cellOf(r, m.id)!.assessors }}</span
            ><span v-else-if="cellOf(r, m.id)!.basis === 'given'" class="n-eaters">given</span
            ><span v-if="marked(r, m.id)" class="mark">{{ mark(r, m.id) }}</span>
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.matrix th {
  font-size: 13px;
  vertical-align: bottom;
  padding: 4px;
  border: 0;
}
.matrix th.quick {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.matrix th[scope='row'] {
  vertical-align: middle;
  color: var(--ink);
  width: 150px;
  padding: 2px 8px 2px 0;
}
.name {
  display: block;
  font-size: 15px;
  line-height: 1.15;
}
.matrix td {
  padding: 2px;
  border: 0;
}
.cell {
  position: relative;
  width: 100%;
  min-width: 56px;
  height: 60px;
  border: 2px solid transparent;
  border-radius: 2px;
  cursor: pointer;
  display: flex;
  align-items: baseline;
  justify-content: center;
  gap: 5px;
  padding: 10px 0 0;
}
.g {
  font-size: 24px;
  font-weight: 750;
  line-height: 1;
}
.score {
  font-size: 13px;
}
.n-eaters {
  position: absolute;
  top: 1px;
  right: 4px;
  font-size: 11px;
  font-stretch: 84%;
}
.mark {
  position: absolute;
  bottom: 3px;
  left: 0;
  right: 0;
  text-align: center;
  font-size: 11px;
  font-weight: 750;
  font-stretch: 84%;
}
.cell.chosen {
  border-color: var(--ink);
  outline: 1px solid var(--surface);
  outline-offset: -4px;
}
.cell.at {
  box-shadow: 0 4px 0 var(--ink);
}
.g-below_3 {
  background: var(--g-below);
  color: var(--g-below-ink);
}
.g-3 {
  background: var(--g-3);
  color: var(--g-3-ink);
}
.g-4 {
  background: var(--g-4);
  color: var(--g-4-ink);
}
.g-5 {
  background: var(--g-5);
  color: var(--g-5-ink);
}
@media (max-width: 1000px) {
  .matrix {
    display: block;
    overflow-x: auto;
  }
}
</style>
