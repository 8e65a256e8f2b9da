<script setup lang="ts">
// What somebody has learned: what is due, piece by piece how far they are, and the record to take away.
import { computed } from 'vue'
import PvButton from 'primevue/button'
import { useRouter } from 'vue-router'
import FileLinks from '../components/FileLinks.vue'
import { filesIn } from '../components/entries'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import PickOne from '../components/PickOne.vue'
import StateNote from '../components/StateNote.vue'
import { useAddressForm } from '../components/useAddressForm'
import type { S } from '../api/client'
import { counted, say } from '../words/say'
import { plainDay } from '../words/shown'
import LearnedPiece from './LearnedPiece.vue'
import { useRecord } from './useLearning'

const router = useRouter()
const form = useAddressForm({ open: '', member: '' })
const { data: r, error, isLoading, refetch } = useRecord(() => form.member)
type Row = S['LearnedPiece']
const columns: ListColumn<Row>[] = [
  { id: 'name', head: say('Piece'), by: (p) => p.name },
  { id: 'known', head: say('Known'), by: (p) => p.known / p.cards, number: true, whole: true },
  { id: 'due', head: say('Due'), by: (p) => p.due, number: true },
  { id: 'cut', head: say('Cut'), by: (p) => p.cut, number: true },
  { id: 'signed', head: say('Signed off'), by: (p) => signed(p), number: true },
]
const signed = (p: Row) => p.signed.filter((s) => s.signed).length
const touched = (p: Row) => p.asked + p.cut + p.practices.length + p.signed.length > 0
/** What was begun stands first. */
const rows = computed(() => [...(r.value?.pieces ?? [])].sort((a, b) => Number(touched(b)) - Number(touched(a))))
const group = (p: Row) => (touched(p) ? say('Begun') : say('Not begun'))
const rowKey = (p: Row) => p.piece
const turn = (p: Row) => (form.open = form.open === p.piece ? '' : p.piece)
const sentence = computed(() => {
  const x = r.value
  if (!x) return ''
  const who = x.own ? say('You know') : say`${x.name} knows`
  if (!x.asked)
    return x.own ? say('Learn the pieces by name, seam and eye.') : say`${x.name} has not begun with the drills.`
  const due = x.due
    ? say`${counted(x.due, 'question')} ${x.due === 1 ? say('is') : say('are')} due today.`
    : x.next_due
      ? say`The next are due on ${plainDay(x.next_due)}.`
      : ''
  return say`${who} ${x.known} of ${counted(x.asked, 'question')} asked. ${x.own ? due : ''}`
})
const query = computed(() => (form.member ? `&member=${form.member}` : ''))
const files = computed(() => [
  { label: 'PDF', href: `/api/v1/learning/record.pdf?${query.value.slice(1)}` },
  ...filesIn(['csv', 'xlsx', 'json'], (f) => `/api/v1/learning/export?format=${f}${query.value}`),
])
const begin = () => router.push({ name: 'drill' })
</script>

<template>
  <section class="page" data-test="learning">
    <StateNote :error="error" :loading="isLoading" what="what was learned" @retry="refetch()" />
    <template v-if="r">
      <div class="spread">
        <h1 class="sentence" data-test="learning-sentence">{{ sentence }}</h1>
        <FileLinks lead="The record as" :files="files" />
      </div>
      <div class="row">
        <PvButton
          v-if="r.own && r.due"
          :label="say`Ask what is due (${r.due})`"
          data-test="learning-due"
          @click="begin"
        />
        <label v-if="r.others.length" class="whose"
          >Whose
          <PickOne
            id="learner"
            v-model="form.member"
            :options="r.others"
            by="id"
            called="name"
            none="Your own"
            label="Whose record"
          />
        </label>
      </div>
      <p v-if="r.own" class="small">
        A question counts as known once it was right twice in a row. Only you see this, and who leads the cutting.
      </p>
      <ListTable
        :rows="rows"
        :columns="columns"
        :row-key="rowKey"
        :opened="form.open"
        :group="group"
        :page-size="40"
        label="What was learned, by piece"
        empty="Nothing was studied or cut yet."
      >
        <template #name="{ row: p }"
          ><button type="button" class="row-opens" :aria-expanded="form.open === p.piece" @click="turn(p)">
            {{ p.name }}</button
          ><span class="small row-beside">{{ p.species }}</span></template
        >
        <template #known="{ row: p }">{{ p.known }} of {{ p.cards }}</template>
        <template #due="{ row: p }">{{ p.due || '–' }}</template>
        <template #cut="{ row: p }">{{ p.cut || '–' }}</template>
        <template #signed="{ row: p }">{{ signed(p) || '–' }}</template>
        <template #opened="{ row: p }"><LearnedPiece :piece="p" :own="r.own" /></template>
      </ListTable>
    </template>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 24px;
  align-items: center;
  margin: 6px 0 10px;
}
.whose {
  display: inline-flex;
  gap: 10px;
  align-items: center;
}
</style>
