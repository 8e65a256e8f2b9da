<script setup lang="ts">
// What is ageing, what is ready for which way of cutting, and until when what may be minced.
import { computed } from 'vue'
import { keyOf } from '../../api/keys'
import FileLinks from '../../components/FileLinks.vue'
import ListTable, { type ListColumn } from '../../components/ListTable.vue'
import MoreRows from '../../components/MoreRows.vue'
import StateNote from '../../components/StateNote.vue'
import { data, GET, type S } from '../../api/client'
import { usePages } from '../../api/usePages'
import { useOutside } from '../../shell/outside'
import { useShop } from '../../shell/shop'
import { plainDay } from '../../words/shown'
import { say } from '../../words/say'

const { mass } = useShop()
const {
  data: list,
  error,
  isLoading,
  refetch,
  hasNextPage,
  isFetchingNextPage,
  fetchNextPage,
} = usePages(
  keyOf('readiness'),
  (query) => data(GET('/readiness', { params: { query } })),
  (page) => page.pieces,
)
type Ready = S['ReadyPiece']
/** The plan that was chosen, or all where none is. */
const counted = (r: Ready) => (r.plans.some((p) => p.chosen) ? r.plans.filter((p) => p.chosen) : r.plans)
const isReady = (r: Ready) => counted(r).some((p) => p.ready)
const firstDay = (r: Ready) =>
  counted(r)
    .map((p) => p.ready_on)
    .sort()[0] ?? ''
const sorted = computed(() =>
  [...(list.value ?? [])].sort(
    (a, b) =>
      Number(isReady(b)) - Number(isReady(a)) ||
      firstDay(a).localeCompare(firstDay(b)) ||
      a.mince_until.localeCompare(b.mince_until),
  ),
)
const sentence = computed(() => {
  const ready = sorted.value.filter(isReady).length
  const next = sorted.value.find((r) => !isReady(r))
  if (!sorted.value.length) return say('Nothing hangs uncut.')
  const of = sorted.value.length === 1 ? say('1 piece is') : say`${sorted.value.length} pieces are`
  const first = say`${ready} of ${of} old enough to be cut as planned, or in some way where nothing is planned`
  return next ? say`${first}; the next is ${next.card.name}, on ${plainDay(firstDay(next))}.` : `${first}.`
})
const columns: ListColumn<Ready>[] = [
  { id: 'piece', head: say('Piece'), by: (r) => r.card.name + r.card.lot_number },
  { id: 'age', head: say('Age'), by: (r) => r.card.age_days, number: true },
  { id: 'ways', head: say('Ways of cutting, and when the piece is old enough for them'), by: firstDay },
  { id: 'mince', head: say('Mince until'), by: (r) => r.mince_until },
]
const { address } = useOutside()
const feed = computed(() => `${address.value}/api/v1/readiness.ics?token=…`)
</script>

<template>
  <section class="page">
    <div class="spread">
      <h1 class="sentence">{{ list ? sentence : say('Ready when?') }}</h1>
      <FileLinks :files="[{ label: say('As a calendar'), href: '/api/v1/readiness.ics' }]" />
    </div>
    <StateNote :error="error" :loading="isLoading" what="what is ageing" @retry="refetch()" />
    <template v-if="list">
      <p v-if="!list.length" class="small">Receive a lot, and its pieces stand here until they are cut.</p>
      <ListTable
        v-else
        :rows="sorted"
        :columns="columns"
        :row-key="(r) => r.card.id"
        :row-class="(r) => (isReady(r) ? 'ready' : undefined)"
        :part="hasNextPage"
        label="What is ready when"
      >
        <template #piece="{ row: r }">
          <RouterLink :to="{ name: 'plan', params: { piece: r.card.id } }"
            ><strong>{{ r.card.name }}</strong></RouterLink
          ><span class="small lot"
            >{{ mass(r.card.weight_g, 2) }} · {{ r.card.lot_number
            }}<template v-if="r.card.of > 1"> · {{ r.card.number }} of {{ r.card.of }}</template></span
          >
        </template>
        <template #age="{ row: r }">day {{ r.card.age_days }}</template>
        <template #ways="{ row: r }"
          ><span v-for="p in r.plans" :key="p.id" class="plan" :class="{ old: p.ready, chosen: p.chosen }"
            ><strong>{{ p.ready ? say('ready') : plainDay(p.ready_on) }}</strong> {{ p.name
            }}<span v-if="p.chosen"> (chosen)</span
            ><span v-if="p.waits_for.length" class="small">, waits for {{ p.waits_for.join(', ') }}</span></span
          ></template
        >
        <template #mince="{ row: r }"
          ><span :class="{ fault: r.mince_past }"
            >{{ plainDay(r.mince_until) }}{{ r.mince_past ? say(', past') : '' }}</span
          ><span class="small lot">{{ r.mince_rule }}</span></template
        >
      </ListTable>
      <MoreRows :more="hasNextPage" :busy="isFetchingNextPage" @more="fetchNextPage()" />
      <p class="small note">
        Old enough means every muscle that this way sells for quick cooking has its least age (the atlas' estimate). The
        days for mince are those of Regulation (EC) 853/2004, from memory: check your local rules.
      </p>
      <p class="small no-print">
        To subscribe in a calendar, make a token that may read on the tokens' page and give the calendar this address:
        {{ feed }}
      </p>
    </template>
  </section>
</template>

<style scoped>
.lot {
  display: block;
}
.plan {
  display: block;
  color: var(--ink-2);
}
.plan.old,
.plan.chosen {
  color: var(--ink);
}
.plan strong {
  display: inline-block;
  min-width: 58px;
}
.plan.old strong {
  color: var(--act);
}
.note {
  margin: 12px 0 6px;
  max-width: 62em;
}
</style>
