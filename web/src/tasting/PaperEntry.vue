<script setup lang="ts">
// Paper sheets, typed in fast: the eater's number, then four figures a sample in the order of the sheet; Enter goes on,
// the last one keeps the sheet and brings the next eater.
import { computed, nextTick, reactive, ref, watch } from 'vue'
import PvButton from 'primevue/button'
import { data, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { attributes, type Attribute } from './attributes'
import { say } from '../words/say'

const props = defineProps<{ tasting: S['Tasting'] }>()
const emit = defineEmits<{ done: [S['Tasting']] }>()
const eater = ref(1)
const typed = reactive<Record<string, string>>({})
const place = computed(() => props.tasting.places.find((p) => p.number === eater.value))
const codes = computed(() => place.value?.order.map((n) => props.tasting.samples[n - 1]!.code) ?? [])
const key = (code: string, a: Attribute) => `${code} ${a}`
function take() {
  for (const code of codes.value) {
    const given = props.tasting.sheets.find((s) => s.assessor === eater.value && s.code === code)?.ratings
    for (const a of attributes) typed[key(code, a.id)] = given?.[a.id]?.toString() ?? ''
  }
}
watch(eater, take, { immediate: true })
const value = (code: string, a: Attribute) => {
  const text = (typed[key(code, a)] ?? '').trim().replace(',', '.')
  return text === '' ? undefined : Number(text)
}
const wrong = (code: string, a: Attribute) => {
  const v = value(code, a)
  return v !== undefined && !(v >= 0 && v <= 100)
}
const faulty = computed(() => codes.value.some((c) => attributes.some((a) => wrong(c, a.id))))
const full = computed(() =>
  props.tasting.places.map((p) => props.tasting.sheets.filter((s) => s.assessor === p.number).length),
)
const { busy, problem, attempt } = useAttempt()
const said = ref('')
const fields = () => [...document.querySelectorAll<HTMLInputElement>('[data-test=paper] .mark')]
function next(e: KeyboardEvent) {
  const all = fields()
  const at = all.indexOf(e.target as HTMLInputElement)
  if (at + 1 < all.length) {
    all[at + 1]!.focus()
    all[at + 1]!.select()
  } else void keep()
}
const keep = () =>
  attempt(async () => {
    said.value = ''
    if (faulty.value)
      return fields()
        .find((f) => f.getAttribute('aria-invalid') === 'true')
        ?.focus()
    const sheets = codes.value
      .map((code) => ({
        assessor: eater.value,
        code,
        ratings: Object.fromEntries(attributes.map((a) => [a.id, value(code, a.id)])),
      }))
      .filter((s) => Object.values(s.ratings).some((v) => v !== undefined))
    if (!sheets.length) return
    const v = await data(
      PUT('/tastings/{tasting_id}/sheets', { params: { path: { tasting_id: props.tasting.id } }, body: { sheets } }),
    )
    const kept = eater.value
    said.value = say`Eater ${kept} is kept.`
    emit('done', v)
    await nextTick()
    const open = v.places
      .map((p) => p.number)
      .filter((n) => v.sheets.filter((s) => s.assessor === n).length < v.samples.length)
    eater.value = open.find((n) => n > kept) ?? open[0] ?? kept
    await nextTick()
    fields()[0]?.focus()
  })
const may = computed(() => props.tasting.state === 'open')
</script>

<template>
  <form class="paper" data-test="paper" novalidate aria-label="Type sheets in" @submit.prevent="keep">
    <p v-if="!may" class="fault">This tasting is {{ tasting.state }}; open it again to correct a sheet.</p>
    <div class="eaters" role="group" aria-label="Eater">
      <button
        v-for="(p, i) in tasting.places"
        :key="p.number"
        type="button"
        class="eater"
        :class="{ on: p.number === eater, full: (full[i] ?? 0) >= tasting.samples.length }"
        :data-eater="p.number"
        :aria-label="say`Eater ${p.number}, ${full[i]} of ${tasting.samples.length} sheets`"
        @click="eater = p.number"
      >
        {{ p.number }}
      </button>
    </div>
    <table v-wide>
      <thead>
        <tr>
          <th>Eater {{ eater }}, sample</th>
          <th v-for="a in attributes" :key="a.id">{{ a.name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="code in codes" :key="code">
          <th scope="row">{{ code }}</th>
          <td v-for="a in attributes" :key="a.id">
            <input
              v-model="typed[key(code, a.id)]"
              class="mark"
              inputmode="decimal"
              maxlength="5"
              :disabled="!may"
              :readonly="busy"
              :aria-invalid="wrong(code, a.id)"
              :aria-label="`${code}, ${a.name}`"
              @keydown.enter.prevent="next"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="faulty" class="fault" role="alert">A mark is from 0 to 100; leave it empty where there is none.</p>
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <div class="row">
      <PvButton
        type="submit"
        label="Keep this eater"
        :disabled="!may || faulty"
        :loading="busy"
        data-test="keep-sheet"
      /><span v-if="said" role="status"
        ><strong>{{ said }}</strong></span
      >
    </div>
    <p class="small">
      Millimetres from the left end of each line, which is 100 mm long. Enter goes to the next; after the last the sheet
      is kept and the next eater comes.
    </p>
  </form>
</template>

<style scoped>
.paper {
  max-width: 760px;
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.eaters {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.eater {
  min-width: 48px;
  min-height: 48px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  cursor: pointer;
  font-weight: 650;
}
.eater.full {
  background: var(--ghost);
}
.eater.on {
  background: var(--ink);
  color: var(--surface);
}
th[scope='row'] {
  font-size: 18px;
  font-weight: 750;
  color: var(--ink);
}
.mark {
  font: inherit;
  font-size: 18px;
  width: 90px;
  height: 48px;
  text-align: right;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 10px;
  background: var(--surface);
  color: var(--ink);
}
.mark[aria-invalid='true'] {
  border: 2px solid var(--act);
}
</style>
