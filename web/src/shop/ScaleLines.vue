<script setup lang="ts">
// How the lines of a scale of another make are read: a pattern with named parts, tried on what the scale says now.
import { computed, reactive, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { keyOf } from '../api/keys'
import { data, POST, PUT, type S } from '../api/client'
import { asProblem } from '../api/problem'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { say } from '../words/say'

const props = defineProps<{ bench: S['BenchDetail'] }>()
const emit = defineEmits<{ changed: [] }>()
const { may } = useMe()
const { mass } = useShop()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const open = ref(false)
const form = reactive({ pattern: '', unit: 'g' })
watch(
  () => [props.bench.scale_pattern, props.bench.scale_unit],
  () => Object.assign(form, { pattern: props.bench.scale_pattern ?? '', unit: props.bench.scale_unit || 'g' }),
  { immediate: true },
)
/** How often the lines are asked for while one tries, in milliseconds. */
const often = 1000
const { data: lines, error } = useQuery({
  queryKey: computed(() => keyOf('scale-lines', props.bench.id, form.pattern, form.unit)),
  queryFn: () =>
    data(
      POST('/benches/{bench_id}/scale/lines', {
        params: { path: { bench_id: props.bench.id } },
        body: { pattern: form.pattern.trim(), unit: form.unit },
      }),
    ),
  enabled: open,
  refetchInterval: often,
  placeholderData: (was) => was,
  retry: false,
})
const wrong = computed(() => (error.value ? asProblem(error.value) : problem.value))
/** The lines, of several that are the same on end the last. */
const shown = computed(() => (lines.value ?? []).filter((l, i, all) => l.text !== all[i + 1]?.text))
const said = (l: S['ScaleLine']) => {
  if (l.fault) return l.fault
  if (!l.reads) return form.pattern.trim() ? say('passed over') : ''
  return [mass(l.net_g!), l.tare_g ? say`tub ${mass(l.tare_g)}` : '', l.state ?? ''].filter(Boolean).join(', ')
}
const keep = () =>
  attempt(async () => {
    await data(
      PUT('/benches/{bench_id}/scale/lines', {
        params: { path: { bench_id: props.bench.id } },
        body: { pattern: form.pattern.trim(), unit: form.unit, version: props.bench.version },
      }),
    )
    emit('changed')
    done(form.pattern.trim() ? say('The scale is read by the pattern.') : say('The scale is read by the protocol.'))
  })
</script>

<template>
  <details
    v-if="may('POST /benches/{bench_id}/scale/lines')"
    :open="open"
    @toggle="open = ($event.target as HTMLDetailsElement).open"
  >
    <summary class="small">
      {{ bench.scale_pattern ? say('It is read by a pattern of your own') : say('It speaks otherwise?') }}
    </summary>
    <form novalidate :aria-label="say`Lines of the scale of ${bench.name}`" @submit.prevent="keep">
      <p class="small">
        A regular expression says what is what on a line: net or gross (the weight), tare, sign, unit; stable, moving,
        over, under where the line says so. Without stable and moving a weight is stable once it stays for five lines.
        Empty: the scale speaks the protocol.
      </p>
      <FormField
        :id="`lines-${bench.id}`"
        label="Pattern"
        :fault="wrong?.at('pattern')"
        hint="Such as ^N (?P<sign>[+-])(?P<net>[0-9.]+) kg (?P<stable>S)?"
        ><InputText
          :id="`lines-${bench.id}`"
          v-model="form.pattern"
          :invalid="!!wrong?.at('pattern')"
          spellcheck="false"
          autocomplete="off"
      /></FormField>
      <div class="row">
        <UnitToggle
          v-model="form.unit"
          :options="['g', 'kg', 'lb', 'oz']"
          :label="say`Unit of the scale of ${bench.name}`"
        />
        <PvButton type="submit" severity="secondary" label="Read it so" :loading="busy" data-test="keep-lines" />
      </div>
      <p v-if="wrong?.rest(['pattern'])" class="fault" role="alert">{{ wrong.rest(['pattern']) }}</p>
      <table v-if="lines?.length" v-wide data-test="scale-lines">
        <thead>
          <tr>
            <th>It says</th>
            <th>Read as</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(l, i) in shown" :key="i">
            <td class="line">{{ l.text }}</td>
            <td :class="{ fault: !!l.fault }">{{ said(l) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-else class="small">It has said nothing yet.</p>
    </form>
  </details>
</template>

<style scoped>
summary {
  min-height: 44px;
  display: flex;
  align-items: center;
  cursor: pointer;
}
form {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.line {
  font-family: ui-monospace, monospace;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
