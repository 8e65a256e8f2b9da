<script setup lang="ts">
// What is weighed for a batch: which tub or ingredient, and the weight, from the scale of a bench or typed.
import { computed, reactive, ref, watch } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import UnitToggle from '../components/UnitToggle.vue'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useWeighed } from '../bench/useWeighed'
import { useFeedback } from '../feedback/useFeedback'
import { amountText, tubName } from '../goods/tubWords'
import { useStock } from '../goods/useStock'
import { useShop } from '../shell/shop'
import { percent } from '../words/shown'
import { say } from '../words/say'

const props = defineProps<{
  making: S['Making']
  weigh: (w: Omit<S['MakingWeighing'], 'id' | 'at'>) => Promise<() => unknown>
}>()
const { unit, mass } = useShop()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const { data: stock } = useStock()
const kinds = { used: say('Meat in'), added: say('Added'), came: say('Came out'), dropped: say('Thrown away') }
const kind = ref<keyof typeof kinds>('used')
const form = reactive({ tub: '', ingredient: '', weight: '', count: '', note: '' })
watch([form, kind], () => (problem.value = undefined))
const tubs = computed(() => {
  const planned = new Set(props.making.plan.map((p) => p.tub))
  const all = (stock.value?.tubs ?? []).filter((t) => t.left_g > 0 && t.form !== 'bone')
  return [...all.filter((t) => planned.has(t.id)), ...all.filter((t) => !planned.has(t.id))].map((t) => ({
    id: t.id,
    name: `${tubName(t)}: ${mass(t.left_g, 2)}${t.lean_pct === undefined ? '' : say`, ${percent(t.lean_pct, 0)} lean`}`,
  }))
})
watch(
  tubs,
  (list) => {
    const planned = props.making.plan.find((p) => list.some((t) => t.id === p.tub))?.tub
    if (!list.some((t) => t.id === form.tub)) form.tub = planned ?? list[0]?.id ?? ''
  },
  { immediate: true },
)
watch(
  () => props.making.amounts,
  (list) => (form.ingredient ||= list[0]?.key ?? ''),
  { immediate: true },
)
/** What is to go in: one touch takes it up; what was weighed of it stands beside. */
const todo = computed(() => {
  const sum = (kind: string, of: string) =>
    props.making.log.filter((l) => l.kind === kind && l.of === of).reduce((g, l) => g + l.g, 0)
  return [
    ...props.making.plan.map((p) => ({
      key: p.tub,
      name: p.name,
      amount: mass(p.g),
      done: sum('used', p.tub),
      pick: () => Object.assign(form, { tub: p.tub }) && (kind.value = 'used'),
    })),
    ...props.making.amounts.map((a) => ({
      key: a.key,
      name: a.name,
      amount: amountText(a.amount, a.unit),
      done: sum('added', a.key),
      pick: () => Object.assign(form, { ingredient: a.key }) && (kind.value = 'added'),
    })),
  ]
})
const { bench, benches, reading, live, placeholder, there, weighed } = useWeighed()
/** What is added by the metre or the piece is counted, not weighed. */
const countedBy = computed(() => {
  const u = props.making.amounts.find((a) => a.key === form.ingredient)?.unit ?? ''
  return kind.value === 'added' && (u === 'm' || u === 'piece') ? u : ''
})
const fault = (f: string) => problem.value?.at(f) ?? ''
const fields = ['tub', 'ingredient', 'weight', 'count', 'note']

const book = () =>
  attempt(async () => {
    const w = weighed(form.weight)
    const undo = await props.weigh({
      kind: kind.value,
      ...(countedBy.value && { count: Math.round(Number(form.count)) }),
      ...w,
      ...(countedBy.value && { unit: countedBy.value }),
      ...(kind.value === 'used' && { tub: form.tub }),
      ...(kind.value === 'added' && { ingredient: form.ingredient }),
      ...(kind.value === 'came' && Number(form.count) > 0 && { count: Math.round(Number(form.count)) }),
      ...(kind.value === 'dropped' && { note: form.note }),
    })
    done(say`${kinds[kind.value]}: booked.`, undo)
    Object.assign(form, { weight: '', count: '', note: '' })
  })
</script>

<template>
  <form class="weigh" novalidate aria-label="Weigh for the batch" @submit.prevent="book">
    <ul v-if="todo.length" class="todo" aria-label="To go in">
      <li v-for="t in todo" :key="t.key">
        <button type="button" class="key" :class="{ done: t.done > 0 }" @click="t.pick">
          <strong>{{ t.name }}</strong> {{ t.amount }}<span v-if="t.done" class="small in">{{ mass(t.done) }} in</span>
        </button>
      </li>
    </ul>
    <UnitToggle v-model="kind" :options="Object.keys(kinds)" :names="kinds" label="What is weighed" />
    <FormField v-if="kind === 'used'" id="weigh-tub" label="From" :fault="fault('tub')"
      ><PickOne id="weigh-tub" v-model="form.tub" :options="tubs"
    /></FormField>
    <FormField v-if="kind === 'added'" id="weigh-in" label="What" :fault="fault('ingredient')"
      ><PickOne id="weigh-in" v-model="form.ingredient" :options="making.amounts" by="key"
    /></FormField>
    <div class="fields">
      <FormField v-if="countedBy" id="weigh-many" :label="say`How many ${countedBy}`" :fault="fault('count')"
        ><InputText id="weigh-many" v-model="form.count" inputmode="numeric" autocomplete="off"
      /></FormField>
      <FormField v-else id="weigh-weight" :label="say`Weight, ${unit}`" :fault="fault('weight')"
        ><InputText
          id="weigh-weight"
          v-model="form.weight"
          inputmode="decimal"
          :placeholder="placeholder"
          :invalid="!!fault('weight')"
          autocomplete="off"
      /></FormField>
      <FormField v-if="kind === 'came'" id="weigh-count" label="Pieces" :fault="fault('count')"
        ><InputText id="weigh-count" v-model="form.count" inputmode="numeric" autocomplete="off"
      /></FormField>
      <FormField v-if="kind === 'dropped'" id="weigh-note" label="Why" :fault="fault('note')"
        ><InputText id="weigh-note" v-model="form.note" :invalid="!!fault('note')" autocomplete="off"
      /></FormField>
      <PvButton
        type="submit"
        label="Book"
        :loading="busy"
        :disabled="!there(form.weight) && !form.count.trim()"
        data-test="weigh"
      />
    </div>
    <FormField
      id="weigh-bench"
      label="Scale of"
      :hint="
        bench
          ? live
            ? say`It shows ${mass(reading.net_g)}; an empty field books that.`
            : say('Nothing steady lies on it.')
          : ''
      "
      ><PickOne id="weigh-bench" v-model="bench" :options="benches" none="no scale, I type"
    /></FormField>
    <p v-if="problem?.rest(fields)" class="fault" role="alert">{{ problem.rest(fields) }}</p>
  </form>
</template>

<style scoped>
.weigh {
  display: flex;
  flex-direction: column;
  gap: 12px;
  border: 1px solid var(--line);
  padding: 14px;
  background: var(--surface);
}
.todo {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.key {
  min-height: 56px;
  padding: 0 14px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  cursor: pointer;
}
.key.done {
  border-color: var(--ink);
  background: var(--ground);
}
.in {
  display: block;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: end;
}
.fields :deep(input) {
  width: 140px;
  font-size: 20px;
}
</style>
