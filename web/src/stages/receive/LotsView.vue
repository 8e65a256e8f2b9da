<script setup lang="ts">
// Lots received, newest first, found by any word of it.
import { computed } from 'vue'
import InputText from 'primevue/inputtext'
import { keyOf } from '../../api/keys'
import FormField from '../../components/FormField.vue'
import ListTable, { type ListColumn } from '../../components/ListTable.vue'
import MoreRows from '../../components/MoreRows.vue'
import StateNote from '../../components/StateNote.vue'
import { data, GET, type S } from '../../api/client'
import { usePages } from '../../api/usePages'
import { moment, plainDay } from '../../words/shown'
import { useAddressForm } from '../../components/useAddressForm'
import { useShop } from '../../shell/shop'
import { say } from '../../words/say'

const { mass, money } = useShop()
const {
  data: list,
  error,
  isLoading,
  refetch,
  hasNextPage,
  isFetchingNextPage,
  fetchNextPage,
} = usePages(
  keyOf('lots'),
  (query) => data(GET('/lots', { params: { query } })),
  (page) => page.lots,
)
const find = useAddressForm({ q: '' })
const asked = computed(() => find.q)
const lots = computed(() => {
  const words = asked.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (list.value ?? []).filter((l) =>
    words.every((w) =>
      [l.lot_number, l.name, l.supplier, l.note ?? '', l.supplier_grade ?? ''].some((t) => t.toLowerCase().includes(w)),
    ),
  )
})
const columns: ListColumn<S['Lot']>[] = [
  { id: 'lot', head: say('Lot'), by: (l) => l.lot_number, whole: true },
  { id: 'piece', head: say('Piece'), by: (l) => l.name },
  { id: 'pieces', head: say('Pieces'), by: (l) => l.pieces, number: true },
  { id: 'weight', head: say('Weight'), by: (l) => l.total_g, number: true },
  { id: 'cost', head: say('Cost'), by: (l) => Number(l.cost), number: true },
  { id: 'supplier', head: say('Supplier'), by: (l) => l.supplier },
  { id: 'slaughtered', head: say('Slaughtered'), by: (l) => l.slaughtered_on },
  { id: 'received', head: say('Received'), by: (l) => l.received_at },
]
</script>

<template>
  <section class="page">
    <div class="spread">
      <h1 class="sentence">Lots received</h1>
      <RouterLink :to="{ name: 'receive' }">Receive a lot</RouterLink>
    </div>
    <StateNote :error="error" :loading="isLoading" what="the lots" @retry="refetch()" />
    <template v-if="list">
      <FormField id="asked" class="asked" label="Lot, piece or supplier"
        ><InputText id="asked" v-model="find.q" autocomplete="off"
      /></FormField>
      <ListTable
        v-if="lots.length"
        :rows="lots"
        :columns="columns"
        :row-key="(l) => l.id"
        :row-class="(l) => (l.voided_at ? 'void' : undefined)"
        :part="hasNextPage"
        label="Lots received"
      >
        <template #lot="{ row: l }"
          ><RouterLink :to="{ name: 'lot', params: { lot: l.id } }">{{ l.lot_number }}</RouterLink></template
        >
        <template #piece="{ row: l }"
          >{{ l.name }}<span v-if="l.voided_at" class="small"> voided: {{ l.void_reason }}</span></template
        >
        <template #pieces="{ row: l }">{{ l.pieces }}</template>
        <template #weight="{ row: l }">{{ mass(l.total_g, 2) }}</template>
        <template #cost="{ row: l }">{{ money(l.cost) }}</template>
        <template #supplier="{ row: l }">{{ l.supplier }}</template>
        <template #slaughtered="{ row: l }">{{ plainDay(l.slaughtered_on) }}</template>
        <template #received="{ row: l }"
          ><span class="small">{{ moment(l.received_at) }}</span></template
        >
      </ListTable>
      <p v-else-if="asked" class="small">No lot says “{{ asked }}”.</p>
      <p v-else class="small">
        Nothing yet. <RouterLink :to="{ name: 'receive' }">Receive the first lot</RouterLink>; its pieces then hang on
        the rail.
      </p>
      <MoreRows
        :more="hasNextPage"
        :busy="isFetchingNextPage"
        :label="asked ? say('Look in earlier lots too') : say('Earlier lots')"
        @more="fetchNextPage()"
      />
    </template>
  </section>
</template>

<style scoped>
.asked {
  max-width: 420px;
  margin: 12px 0 16px;
}
:deep(tr.void td) {
  color: var(--ink-2);
  text-decoration: line-through;
}
:deep(tr.void .small) {
  text-decoration: none;
  display: inline-block;
}
</style>
