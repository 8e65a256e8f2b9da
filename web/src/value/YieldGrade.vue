<script setup lang="ts">
// The yield grade of a carcass by the USDA equations; measurements are in inches and pounds as the standards have them.
import { computed, reactive } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { typedNumber } from '../words/typed'
import { data, POST } from '../api/client'
import { asProblem } from '../api/problem'
import { say } from '../words/say'

const props = defineProps<{ species: 'beef' | 'lamb' }>()
const fieldNames: Record<string, string> = {
  fat_in: say('Fat'),
  kph_pct: say('Inner fat'),
  hot_carcass_lb: say('Hot weight'),
  ribeye_sq_in: say('Rib eye'),
}
const form = reactive({ fat: '0.40', kph: '2.5', hot: '750', eye: '13.0' })
const body = computed(() => ({
  species: props.species,
  fat_in: typedNumber(form.fat),
  ...(props.species === 'beef' && {
    kph_pct: typedNumber(form.kph),
    hot_carcass_lb: typedNumber(form.hot),
    ribeye_sq_in: typedNumber(form.eye),
  }),
}))
const { data: g, error } = useQuery({
  queryKey: computed(() => keyOf('yield-grade', body.value)),
  queryFn: () => data(POST('/calc/yield-grade', { body: body.value })),
  retry: false,
})
const fault = computed(() =>
  error.value
    ? asProblem(error.value)
        .errors.map((e) => `${fieldNames[e.field] ?? ''} ${e.message}.`)
        .join(' ')
    : '',
)
</script>

<template>
  <section class="by-fat" aria-label="Yield grade">
    <h2>Yield grade, {{ species }}</h2>
    <div class="row">
      <label
        >Adjusted fat over the eye, in <input v-model="form.fat" inputmode="decimal" aria-label="Fat, inches"
      /></label>
      <template v-if="species === 'beef'"
        ><label
          >Kidney, pelvic and heart fat, %
          <input v-model="form.kph" inputmode="decimal" aria-label="Kidney, pelvic and heart fat, per cent" /></label
        ><label>Hot weight, lb <input v-model="form.hot" inputmode="decimal" aria-label="Hot weight, pounds" /></label
        ><label
          >Rib-eye area, sq in
          <input v-model="form.eye" inputmode="decimal" aria-label="Rib-eye area, square inches" /></label
      ></template>
      <output data-test="yield-grade"
        ><strong v-if="g && !fault">{{ g.grade }}</strong>
        <span v-if="g && !fault" class="small">({{ g.exact.toFixed(2) }}; 1 gives most saleable meat, 5 least)</span
        ><span v-else class="fault">{{ fault || say('Enter the measurements.') }}</span></output
      >
    </div>
    <p class="small">
      {{
        species === 'beef'
          ? say('2.50 + 2.50·fat + 0.20·inner fat % + 0.0038·hot weight − 0.32·rib-eye area')
          : '0.4 + 10·fat'
      }}; USDA standards, from memory. Licensed graders decide.
    </p>
  </section>
</template>

<style scoped>
.by-fat {
  margin-top: 26px;
  border-top: 1px solid var(--hairline);
  padding-top: 14px;
}
.row {
  gap: 10px 24px;
  flex-wrap: wrap;
}
label {
  display: inline-flex;
  align-items: center;
  gap: 8px;
}
input {
  width: 76px;
  font: inherit;
  min-height: 44px;
  text-align: right;
  padding: 0 8px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
}
output strong {
  font-size: 24px;
}
</style>
