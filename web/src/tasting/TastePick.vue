<script setup lang="ts">
// Which muscle by which method is to be tasted: proposals first, then the table of what makes sense.
import { computed, ref } from 'vue'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { shortName } from '../words/shown'
import { say } from '../words/say'

type Muscle = S['GradedMuscle']
const props = defineProps<{ grades: S['PieceGrades']; has: (part: string, method: string) => boolean }>()
const emit = defineEmits<{ toggle: [Muscle, S['Method']] }>()
const { money } = useShop()

/** Those that are chosen already are left out. */
const proposals = computed(() => props.grades.proposals.filter((p) => !props.has(p.part, p.method)))
function propose(p: S['TasteProposal']) {
  const muscle = props.grades.muscles.find((x) => x.part === p.part)
  const method = props.grades.methods.find((x) => x.id === p.method)
  if (muscle && method) emit('toggle', muscle, method)
}

const all = ref(false)
const cellOf = (m: Muscle, method: string) => m.cells.find((c) => c.method === method)
const isProposed = (m: Muscle, method: string) =>
  props.grades.proposals.some((p) => p.part === m.part && p.method === method)
/** A method makes sense for a muscle where it is sold so, or eats no worse than 3. */
const isSensible = (m: Muscle, method: string) => {
  const c = cellOf(m, method)
  return !!c && (c.grade !== 'below_3' || isProposed(m, method))
}
const methods = computed(() =>
  props.grades.methods.filter((x) => all.value || props.grades.muscles.some((m) => isSensible(m, x.id))),
)
const isShown = (m: Muscle, method: string) => all.value || isSensible(m, method) || props.has(m.part, method)
const known = (c: S['GradeCell'] | undefined) =>
  c ? `${c.grade === 'below_3' ? '<3' : c.grade}, ${c.assessors ? `n ${c.assessors}` : say('nobody')}` : ''
</script>

<template>
  <section v-if="proposals.length" class="proposals" data-test="proposals">
    <h2>Worth tasting: sold so, and nobody stands behind the grade</h2>
    <button v-for="p in proposals" :key="p.part + p.method" type="button" class="proposal" @click="propose(p)">
      <strong>{{ shortName(p.name) }}, {{ p.method_name.toLowerCase() }}</strong>
      <span class="small">{{ money(p.worth) }} of a usual piece</span>
    </button>
  </section>
  <table v-wide class="pick">
    <thead>
      <tr>
        <th>Muscle</th>
        <th v-for="m in methods" :key="m.id">{{ m.name }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="m in grades.muscles" :key="m.part">
        <th scope="row">{{ shortName(m.name) }}</th>
        <td v-for="x in methods" :key="x.id">
          <button
            v-if="isShown(m, x.id)"
            type="button"
            class="cell"
            :class="{ on: has(m.part, x.id) }"
            :aria-pressed="has(m.part, x.id)"
            :aria-label="`${m.name}, ${x.name}`"
            :data-sample="`${m.part} ${x.id}`"
            @click="emit('toggle', m, x)"
          >
            {{ has(m.part, x.id) ? '✓ ' : '' }}<span class="small">{{ known(cellOf(m, x.id)) }}</span>
          </button>
        </td>
      </tr>
    </tbody>
  </table>
  <p class="small">In each cell: the present grade, and how many eaters stand behind it.</p>
  <label class="tick"><input v-model="all" type="checkbox" /> methods that make no sense for a muscle too</label>
</template>

<style scoped>
.proposals {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 14px;
}
h2 {
  flex-basis: 100%;
  font-size: 15px;
}
.proposal {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  min-height: 48px;
  padding: 6px 12px;
  border: 1px solid var(--ink);
  border-radius: 2px;
  background: var(--surface);
  cursor: pointer;
  text-align: left;
}
.pick {
  margin-top: 14px;
}
.pick th,
.pick td {
  padding: 2px;
  border: 0;
  vertical-align: middle;
}
.pick th[scope='row'] {
  font-size: 15px;
  color: var(--ink);
  font-stretch: 90%;
}
.cell {
  width: 100%;
  min-width: 64px;
  height: 48px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  cursor: pointer;
  font-weight: 750;
}
.cell .small {
  font-weight: 500;
  color: inherit;
}
.cell.on {
  background: var(--ink);
  color: var(--surface);
}
@media (max-width: 1100px) {
  .pick {
    display: block;
    overflow-x: auto;
  }
}
</style>
