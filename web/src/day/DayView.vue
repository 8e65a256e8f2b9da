<script setup lang="ts">
// The day: who cuts what when, what has become of it, and laying out anew what is left.
import { computed, reactive, ref, watch } from 'vue'
import PvButton from 'primevue/button'
import ProgressBar from 'primevue/progressbar'
import DayPick from '../components/DayPick.vue'
import FileLinks from '../components/FileLinks.vue'
import QuestionLine from '../components/QuestionLine.vue'
import StateNote from '../components/StateNote.vue'
import { useAddressForm } from '../components/useAddressForm'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { moment, plainDay, today } from '../words/shown'
import { dayOr, isDay } from '../words/typed'
import DayList from './DayList.vue'
import DayPicture from './DayPicture.vue'
import DayPosts from './DayPosts.vue'
import { askOf, formOf, postsText, type DayForm } from './dayDraft'
import { useDay } from './useDay'

const { may } = useMe()
const { mass } = useShop()
const { ask, done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const find = useAddressForm({ day: '' })
const on = computed(() => (isDay(dayOr(find.day)) ? dayOr(find.day) : ''))
const work = useDay(on)
const { data: day, error, isLoading, refetch } = work
const form = reactive<DayForm>({ posts: [], rules: { clean: '10', clean_saw: '10', wash: '20' } })
const pins = ref<Record<string, string>>({})
/** Pieces of the plan that are not cut on this day after all, and others that are. */
const leave = ref<string[]>([])
const take = ref<string[]>([])
watch(
  () => [day.value?.day, day.value?.version],
  () => {
    if (!day.value) return
    Object.assign(form, formOf(day.value))
    pins.value = { ...day.value.pins }
    leave.value = []
    take.value = day.value.made_at ? [] : day.value.open.map((c) => c.id)
  },
  { immediate: true },
)
/** Something of it was changed since it was laid out. */
const changed = computed(() => {
  const d = day.value
  if (!d) return false
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)
  return !!leave.value.length || !!take.value.length || !same(pins.value, d.pins) || !same(form, formOf(d))
})
const lead = computed(() => may('PUT /day'))
/** Today where the plan is kept. */
const here = computed(() => today(new Date(day.value?.now ?? Date.now())))
const past = computed(() => !!day.value && day.value.day < here.value)
const sentence = computed(() => {
  const d = day.value
  if (!d) return say('The day')
  const name = d.day === here.value ? say('Today') : plainDay(d.day)
  if (d.made_at) return `${name}: ${d.sentence}`
  return say`${name} is not planned. ${counted(d.open.length, 'piece is', 'pieces are')} ready and planned.`
})
const names = (id: string) =>
  [...(day.value?.benches ?? []), ...(day.value?.cutters ?? [])].find((n) => n.id === id)?.name ?? ''
/** Waiting pieces that are in the plan now, less those left out, with those taken in. */
const chosen = computed(() => [
  ...(day.value?.posts.flatMap((p) => p.slots) ?? [])
    .filter((s) => (s.status === 'waits' || s.status === 'behind') && !leave.value.includes(s.piece.id))
    .map((s) => s.piece.id),
  ...take.value,
])
const plan = () =>
  attempt(async () => {
    await work.plan(
      askOf(form, {
        ...(on.value && { day: on.value }),
        pieces: chosen.value,
        pins: pins.value,
        version: day.value!.version,
      }),
    )
    done(say('Laid out.'))
  })
async function drop() {
  const yes = await ask({
    title: say('Take the plan away?'),
    text: say('What is cut and being cut stays as it is; the pieces wait on the rail without a time.'),
    yes: say('Take it away'),
  })
  if (yes) await attempt(() => work.drop(day.value!.day, day.value!.version))
}
const files = computed(() => {
  const at = (format: string) => `/api/v1/day/export?format=${format}${on.value ? `&day=${on.value}` : ''}`
  return [
    { label: say('Sheets by bench'), href: at('pdf') },
    { label: say('Calendar'), href: at('ics') },
    { label: 'CSV', href: at('csv') },
    { label: 'XLSX', href: at('xlsx') },
    { label: 'JSON', href: at('json') },
  ]
})
const trouble = computed(() => {
  const known = problem.value?.errors.map((e) => e.field).filter((f) => /^(posts|rules)/.test(f)) ?? []
  return problem.value?.rest(known) ?? ''
})
</script>

<template>
  <section class="page">
    <div class="spread">
      <h1 class="sentence" data-test="day-sentence">{{ sentence }}</h1>
      <span class="day no-print"
        ><label class="vh" for="which-day">Which day</label
        ><DayPick id="which-day" v-model="find.day" placeholder="today" label="Which day" lazy
      /></span>
    </div>
    <StateNote :error="error" :loading="isLoading" what="the day" @retry="refetch()" />
    <template v-if="day">
      <p v-for="n in day.notes" :key="n" class="fault" data-test="day-note">{{ n }}</p>
      <QuestionLine
        v-if="lead && !past"
        :asked="postsText(form, names)"
        :wrong="!!problem?.errors.some((e) => /^(posts|rules)/.test(e.field))"
      >
        <DayPosts v-model="form" :problem="problem" :benches="day.benches" :cutters="day.cutters" />
      </QuestionLine>
      <DayPicture v-if="day.made_at && day.posts.length" :day="day" />
      <p v-if="trouble" class="fault" role="alert">{{ trouble }}</p>
      <ProgressBar v-if="busy" mode="indeterminate" class="busy" aria-label="Laying the day out" />
      <div class="row">
        <PvButton
          v-if="lead && !past"
          :label="day.made_at ? say('Lay out what is left anew') : say`Lay out ${counted(chosen.length, 'piece')}`"
          :severity="day.made_at && !changed ? 'secondary' : undefined"
          :disabled="busy || !chosen.length"
          class="no-print"
          data-test="plan-day"
          @click="plan"
        />
        <PvButton
          v-if="lead && day.made_at && !past"
          text
          class="no-print"
          label="Take the plan away"
          :disabled="busy"
          @click="drop"
        />
        <FileLinks v-if="day.made_at && may('GET /day/export')" :files="files" />
      </div>
      <p v-if="day.made_at" class="small">
        Laid out {{ moment(day.made_at) }};
        {{ day.proven ? say('no other way is better.') : say('the best that was found in the time there was.') }}
        Minutes are those of the plan, at the pace of the house and of each cutter.
      </p>
      <DayList v-if="day.made_at" v-model:pins="pins" v-model:leave="leave" :day="day" :may="lead && !past" />
      <section v-if="day.open.length && lead && !past" class="open">
        <h2>{{ day.made_at ? say('Could be cut too') : say('What could be cut') }}</h2>
        <ul>
          <li v-for="c in day.open" :key="c.id">
            <label class="tick"
              ><input v-model="take" type="checkbox" :value="c.id" /> {{ c.name }}, {{ c.lot_number }} / {{ c.number }},
              {{ mass(c.weight_g, 2) }}: {{ c.plan_name }}</label
            >
          </li>
        </ul>
      </section>
      <p v-if="day.planless" class="small">
        {{ counted(day.planless, 'piece is', 'pieces are') }} ready and
        {{ day.planless === 1 ? say('has') : say('have') }} no plan yet:
        <RouterLink :to="{ name: 'best-use' }">best use</RouterLink> says which.
      </p>
    </template>
  </section>
</template>

<style scoped>
.page > * + * {
  margin-top: 12px;
}
.day {
  width: 190px;
}
.busy {
  height: 4px;
}
.open {
  margin-top: 22px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
