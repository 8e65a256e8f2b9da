<script setup lang="ts">
// Where the shop sells: markets, their tax, and which is the main one.
import { reactive, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { typedNumber } from '../words/typed'
import { data, POST, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { say } from '../words/say'

defineProps<{ markets: S['Market'][] }>()
const queries = useQueryClient()
const { busy, problem, attempt } = useAttempt()
const adding = ref(false)
const form = reactive({ name: '', tax: '0' })
const after = () => queries.invalidateQueries()
const add = () =>
  attempt(async () => {
    await data(POST('/markets', { body: { name: form.name, tax_pct: typedNumber(form.tax) } }))
    adding.value = false
    form.name = ''
    await after()
  })
const change = (m: S['Market'], more: Partial<S['Market']>) =>
  attempt(async () => {
    await data(PUT('/markets/{market_id}', { params: { path: { market_id: m.id } }, body: { ...m, ...more } }))
    await after()
  })
</script>

<template>
  <details class="box no-print">
    <summary>
      <strong>Markets</strong>
      {{ markets.length ? markets.map((m) => m.name).join(', ') : say('none yet: prices hold everywhere') }}
    </summary>
    <table v-if="markets.length" v-wide>
      <thead>
        <tr>
          <th>Market</th>
          <th class="n">Tax, %</th>
          <th><span class="vh">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="m in markets" :key="m.id + m.version">
          <td>
            <input
              :value="m.name"
              class="text"
              :aria-label="say`Name of ${m.name}`"
              @change="change(m, { name: ($event.target as HTMLInputElement).value })"
            />
          </td>
          <td class="n">
            <input
              :value="m.tax_pct"
              class="short"
              inputmode="decimal"
              :aria-label="say`Tax of ${m.name}`"
              @change="change(m, { tax_pct: typedNumber(($event.target as HTMLInputElement).value) })"
            />
          </td>
          <td>
            {{ m.main ? say('main: comparisons take its prices') : ''
            }}<PvButton
              v-if="!m.main"
              text
              label="Make main market"
              :disabled="busy"
              @click="change(m, { main: true })"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <form v-if="adding" class="row" novalidate @submit.prevent="add">
      <input v-model="form.name" class="text" maxlength="60" placeholder="name" aria-label="Name of the market" /><label
        >tax <input v-model="form.tax" class="short" inputmode="decimal" aria-label="Tax, per cent" /> %</label
      ><PvButton type="submit" label="Add" :disabled="busy" />
    </form>
    <PvButton v-else text label="Add a market" @click="adding = true" />
    <p v-if="problem" class="fault" role="alert">
      {{
        problem.errors[0]
          ? [
              say`The ${problem.errors[0].field.replace('_pct', '')} ${problem.errors[0].message}.`,
              problem.errors[0].hint,
            ].join(' ')
          : problem.message
      }}
    </p>
    <p class="small">All prices are without tax; the tax is only added where it is shown.</p>
  </details>
</template>

<style scoped>
.box {
  margin: 12px 0;
}
.text,
.short {
  font: inherit;
  min-height: 40px;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 8px;
  background: var(--surface);
  color: var(--ink);
}
.short {
  width: 70px;
  text-align: right;
}
td,
th {
  padding: 4px 8px 4px 0;
}
</style>
