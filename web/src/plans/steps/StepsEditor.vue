<script setup lang="ts">
// A plan of one's own, step by step: select a step, touch on the map what leaves, say what it becomes. Nothing is
// dragged; it is played and valued while it is written.
import { computed, nextTick, ref } from 'vue'
import { useRoute } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../../components/FormField.vue'
import PickOne from '../../components/PickOne.vue'
import StateNote from '../../components/StateNote.vue'
import { useAtlasPiece } from '../../api/useAtlasPiece'
import { useShop } from '../../shell/shop'
import { useTitle } from '../../shell/title'
import ProductRows from '../ProductRows.vue'
import { usePlanKeep } from '../usePlanKeep'
import { usePlans } from '../usePlans'
import OptionRows from './OptionRows.vue'
import StepForm from './StepForm.vue'
import StepMap from './StepMap.vue'
import { move, newStep, remove, togglePart } from './stepDraft'
import { useStepDraft } from './useStepDraft'
import { say } from '../../words/say'

const props = defineProps<{ piece: string; plan?: string }>()
const route = useRoute()
const { mass, money } = useShop()
const { data: list, error, isLoading, refetch } = usePlans(() => props.piece)
const { data: atlas } = useAtlasPiece(() => props.piece)
const based = computed(() => props.plan ?? String(route.query.from ?? list.value?.plans[0]?.plan.id ?? ''))
const version = computed(() => list.value?.plans.find((p) => p.plan.id === props.plan)?.plan.version ?? 0)
const {
  draft,
  rows,
  chosen,
  body,
  played,
  faults,
  undo,
  past,
  error: missing,
} = useStepDraft(props.piece, () => based.value, !props.plan)
const { checked, problem, check, save, busy, fault, nameFault, notKept } = usePlanKeep({
  piece: props.piece,
  plan: props.plan,
  based: () => based.value,
  version: () => version.value,
  body: () => body.value,
})

const at = ref(0)
const step = computed(() => draft.value?.steps[at.value])
const fields = computed(() => list.value?.verbs.find((v) => v.id === step.value?.do)?.fields ?? [])
const touched = computed(() => [
  ...Object.keys(step.value?.parts ?? {}),
  ...(step.value?.takes ?? []).map((t) => t.part),
])
const pickable = computed(() => fields.value.some((f) => f === 'parts' || f === 'takes'))
const shown = computed(() => played.value?.steps.find((s) => s.id === step.value?.id))
const told = computed(() => Object.fromEntries((played.value?.steps ?? []).map((s) => [s.id, s.words])))
const doneOf = (id: string) => played.value?.steps.find((s) => s.id === id)
const weightOf = (id: string) =>
  doneOf(id)
    ?.outputs.filter((o) => o.kind !== 'tub')
    .reduce((sum, o) => sum + o.g, 0) ?? 0
const touch = (part: string) => step.value && togglePart(step.value, fields.value, part, shown.value?.on[part] ?? 0)
async function select(i: number) {
  at.value = i
  await nextTick()
}
function addAfter() {
  draft.value!.steps.splice(at.value + 1, 0, newStep(draft.value!.steps))
  at.value = Math.min(at.value + 1, draft.value!.steps.length - 1)
}
const shift = (by: number) => (at.value = move(draft.value!.steps, at.value, by))
function drop() {
  remove(draft.value!.steps, at.value)
  at.value = Math.max(0, Math.min(at.value, draft.value!.steps.length - 1))
}

const rowFields = ['name', 'form', 'cook', 'thickness_mm', 'portion_g', 'count_high', 'from']
/** What is wrong with the plan that no step and no field below shows. */
const otherFault = computed(() => {
  if (!problem.value || Object.keys(faults.value).some((id) => id)) return ''
  const at = draft.value?.products.flatMap((_, i) => rowFields.map((f) => `products.${i}.${f}`)) ?? []
  return problem.value.rest(['name', 'why', ...at, ...problem.value.errors.map((e) => e.field).filter(isPart)])
})
const isPart = (f: string) => f.startsWith('parts.')
useTitle(() => draft.value?.name || list.value?.name)
</script>

<template>
  <section class="page">
    <StateNote
      :error="error ?? missing"
      :loading="isLoading || (!draft && !missing)"
      what="the plan"
      @retry="refetch()"
    />
    <form v-if="list && draft && atlas" novalidate aria-label="A plan in steps" @submit.prevent="save">
      <p class="label">{{ list.name }}</p>
      <h1 class="sentence">
        {{
          plan
            ? say`Version ${version + 1} of ${draft.name || say('this plan')}`
            : say('New cutting plan, step by step')
        }}
      </h1>
      <p class="state" data-test="state" aria-live="polite">
        <template v-if="faults['']">{{ faults[''] }}</template>
        <template v-else-if="Object.keys(faults).length"
          >{{ Object.keys(faults).length }} of {{ draft.steps.length }} steps cannot be done as they stand.</template
        >
        <template v-else-if="!problem && checked"
          >A usual piece of {{ mass(list.typical_g, 1) }} would sell for {{ money(checked.totals.sales) }};
          {{ money(checked.totals.value) }} are left after packaging and {{ checked.totals.minutes }} minutes, before it
          is bought.</template
        >
        <template v-else-if="played?.left.length">Something still goes nowhere: see below the map.</template>
        <template v-else-if="!problem">Checking…</template>
      </p>
      <p v-if="otherFault" class="fault" role="alert">{{ otherFault }}</p>
      <div class="names">
        <FormField id="name" label="Name" :fault="nameFault"
          ><InputText id="name" v-model="draft.name" :invalid="!!nameFault" autocomplete="off"
        /></FormField>
        <FormField id="why" label="Why, in a sentence" :fault="fault('why')"
          ><InputText id="why" v-model="draft.why" :invalid="!!fault('why')" autocomplete="off"
        /></FormField>
        <FormField id="cut" label="Cut"
          ><PickOne
            id="cut"
            v-model="draft.cut"
            :options="[
              { id: 'seams', name: say('along the seams') },
              { id: 'straight', name: say('straight through') },
            ]"
        /></FormField>
      </div>
      <div class="lay">
        <StepMap
          :piece="atlas"
          :parts="list.parts"
          :step="shown"
          :left="played?.left ?? []"
          :touched="touched"
          :pickable="pickable"
          @pick="touch"
        />
        <div>
          <div class="spread">
            <h2>Steps</h2>
            <PvButton text label="Undo" :disabled="!past.length" data-test="undo" @click="undo" />
          </div>
          <ol class="steps">
            <li v-for="(s, i) in draft.steps" :key="s.id" :class="{ on: i === at }" :data-step="s.id">
              <button
                type="button"
                class="one"
                :aria-expanded="i === at"
                :class="{ idle: doneOf(s.id) && !doneOf(s.id)!.done }"
                @click="select(i)"
              >
                <span class="no">{{ i + 1 }}</span>
                <span>{{ told[s.id] ?? '…' }}</span>
                <span class="n">{{ weightOf(s.id) ? mass(weightOf(s.id), 2) : '' }}</span>
              </button>
              <p v-if="faults[s.id]" class="fault" role="alert">{{ faults[s.id] }}</p>
              <template v-if="i === at">
                <StepForm :draft="draft" :at="i" :list="list" :told="told" />
                <p class="row">
                  <PvButton severity="secondary" label="Earlier" :disabled="i === 0" @click="shift(-1)" />
                  <PvButton
                    severity="secondary"
                    label="Later"
                    :disabled="i === draft.steps.length - 1"
                    @click="shift(1)"
                  />
                  <PvButton severity="secondary" label="Take it out" data-test="drop-step" @click="drop" />
                  <PvButton severity="secondary" label="A step after it" data-test="add-step" @click="addAfter" />
                </p>
              </template>
            </li>
          </ol>
          <PvButton v-if="!draft.steps.length" label="The first step" data-test="add-step" @click="addAfter" />
        </div>
      </div>
      <ProductRows
        v-model="rows"
        :list="list"
        :made="checked?.products"
        :fault="fault"
        @priced="(check(), refetch())"
      />
      <h2>Where cutters differ</h2>
      <OptionRows v-model="draft.options" v-model:chosen="chosen" :steps="draft.steps" />
      <div class="row submit">
        <PvButton
          type="submit"
          :label="plan ? say`Save as version ${version + 1}` : say('Save plan')"
          :loading="busy"
        />
        <span v-if="notKept" class="fault" role="alert">{{ notKept }}</span>
        <span v-else class="small">What was cut by an older version keeps that one.</span>
      </div>
    </form>
  </section>
</template>

<style scoped>
.state {
  margin: 6px 0 14px;
  min-height: 42px;
  max-width: 90ch;
}
.names {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr) 190px;
  gap: 14px;
  align-items: start;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 0.8fr) minmax(0, 1fr);
  gap: 32px;
  margin: 18px 0;
  align-items: start;
}
.steps {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-bottom: 1px solid var(--hairline);
}
li.on {
  border-left: 4px solid var(--act);
  padding-left: 12px;
}
.one {
  display: grid;
  grid-template-columns: 28px 1fr auto;
  gap: 10px;
  align-items: baseline;
  width: 100%;
  min-height: 48px;
  padding: 8px 0;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
li.on .one {
  font-weight: 650;
}
.one.idle {
  color: var(--ink-2);
}
.no {
  text-align: right;
  color: var(--ink-2);
}
.n {
  font-variant-numeric: tabular-nums;
}
.submit {
  position: sticky;
  bottom: 0;
  background: var(--ground);
  padding: 8px 0;
}
@media (max-width: 900px) {
  .lay,
  .names {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
