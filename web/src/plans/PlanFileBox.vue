<script setup lang="ts">
// A plan from another shop, as a file: what it would bring is shown first, and it is kept only when asked.
import PvButton from 'primevue/button'
import { data, fileBody, POST, type S } from '../api/client'
import FilePick from '../components/FilePick.vue'
import { useFileImport } from '../components/useFileImport'
import { useShop } from '../shell/shop'
import { say } from '../words/say'

const props = defineProps<{ piece: string }>()
const { bare, mass, money, unit } = useShop()
const { chosen, seen, said, busy, problem, look, keep, leave } = useFileImport(
  (file, save) =>
    data(
      POST('/plans/{atlas_id}/file', {
        params: { path: { atlas_id: props.piece }, query: { save } },
        ...fileBody(file),
      }),
    ),
  (done: S['PlanForecast']) => say`“${done.plan.name}” is one of the shop's own ways now.`,
)
const meat = (f: S['PlanForecast']) => f.products.filter((r) => r.weight_g > 0 && r.id !== 'loss')
</script>

<template>
  <section class="file" aria-label="A plan as a file" data-test="plan-file">
    <div class="row">
      <FilePick label="Bring in a plan" :busy="busy" @picked="look" />
      <span class="small">A plan that another shop wrote to a file. Nothing is kept before you have seen it.</span>
    </div>
    <p v-if="said" role="status">
      <strong>{{ said }}</strong>
    </p>
    <p v-if="problem" class="fault" role="alert">{{ problem.ofFile() }}</p>
    <template v-if="seen">
      <h3>{{ chosen?.name }}: {{ seen.plan.name }}</h3>
      <p>{{ seen.plan.why }}</p>
      <table v-wide>
        <tbody>
          <tr v-for="r in meat(seen)" :key="r.id">
            <td>{{ r.name }}</td>
            <td class="n">{{ bare(r.weight_g, 2) }} {{ unit }}</td>
            <td class="n">{{ r.price ? money(r.value) : r.kind === 'waste' ? '' : say('no price yet') }}</td>
          </tr>
        </tbody>
      </table>
      <p>
        On a piece of
        {{
          mass(
            seen.products.reduce((sum, r) => sum + r.weight_g, 0),
            1,
          )
        }}, before what it costs to buy: <strong>{{ money(seen.totals.value) }}</strong>,
        {{ seen.totals.minutes }} minutes at the bench.
      </p>
      <div class="row">
        <PvButton label="Keep it as one of our own" :disabled="busy" data-test="keep-plan" @click="keep" />
        <PvButton text label="Leave it" @click="leave" />
      </div>
    </template>
  </section>
</template>

<style scoped>
.file {
  display: flex;
  flex-direction: column;
  gap: 10px;
  margin-top: 18px;
}
table {
  max-width: 560px;
}
</style>
