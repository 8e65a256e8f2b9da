<script setup lang="ts">
// The ways to break a carcass, and what it leaves by each, every piece cut by the plan of the whole.
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { say } from '../words/say'

defineProps<{ ways: S['CarcassDivisionValue'][]; plan: string }>()
const chosen = defineModel<string>({ required: true })
const { money } = useShop()
const notSaid = say('not all priced')
</script>

<template>
  <table v-wide data-test="divisions">
    <caption>
      By “{{
        plan
      }}” throughout
    </caption>
    <thead>
      <tr>
        <th>Broken</th>
        <th class="n">Per carcass</th>
        <th class="n">Against the usual</th>
        <th class="n">Minutes</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="d in ways" :key="d.id" :class="{ chosen: d.id === chosen }">
        <td>
          <label class="way">
            <input v-model="chosen" type="radio" name="division" :value="d.id" /> <span>{{ d.name }}</span>
          </label>
        </td>
        <td class="n">{{ d.priced ? money(d.head) : notSaid }}</td>
        <td class="n">
          <template v-if="d.id !== ways[0]?.id && d.priced && ways[0]?.priced">{{ money(d.more, true) }}</template>
        </td>
        <td class="n">{{ d.minutes.toFixed(0) }}</td>
      </tr>
    </tbody>
  </table>
  <p class="small">{{ ways.find((d) => d.id === chosen)?.note }}</p>
</template>

<style scoped>
caption {
  text-align: left;
}
td,
th {
  padding: 0 8px;
  vertical-align: middle;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
.way {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 44px;
}
.way input {
  flex: none;
  accent-color: var(--act);
}
@media (max-width: 480px) {
  tr > :nth-child(3) {
    display: none;
  }
}
.chosen td {
  background: var(--sunk);
}
</style>
