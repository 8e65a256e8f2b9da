<script setup lang="ts">
// Lots received, newest first, found by any word of it.
import { computed, ref } from 'vue'
import InputText from 'primevue/inputtext'
import FormField from '../../components/FormField.vue'
import MoreRows from '../../components/MoreRows.vue'
import StateNote from '../../components/StateNote.vue'
import { data, GET } from '../../api/client'
import { usePages } from '../../api/usePages'
import { moment } from '../../shell/moment'
import { plainDay, useShop } from '../../shell/shop'

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
  ['lots'],
  (query) => data(GET('/lots', { params: { query } })),
  (page) => page.lots,
)
const asked = ref('')
const lots = computed(() => {
  const words = asked.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (list.value ?? []).filter((l) =>
    words.every((w) =>
      [l.lot_number, l.name, l.supplier, l.note ?? '', l.supplier_grade ?? ''].some((t) => t.toLowerCase().includes(w)),
    ),
  )
})
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
        ><InputText id="asked" v-model="asked" autocomplete="off"
      /></FormField>
      <table v-if="lots.length" v-wide>
        <thead>
          <tr>
            <th>Lot</th>
            <th>Piece</th>
            <th class="n">Pieces</th>
            <th class="n">Weight</th>
            <th class="n">Cost</th>
            <th>Supplier</th>
            <th>Slaughtered</th>
            <th>Received</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in lots" :key="l.id" :class="{ void: l.voided_at }">
            <td>
              <RouterLink :to="{ name: 'lot', params: { lot: l.id } }">{{ l.lot_number }}</RouterLink>
            </td>
            <td>
              {{ l.name }}<span v-if="l.voided_at" class="small"> voided: {{ l.void_reason }}</span>
            </td>
            <td class="n">{{ l.pieces }}</td>
            <td class="n">{{ mass(l.total_g, 2) }}</td>
            <td class="n">{{ money(l.cost) }}</td>
            <td>{{ l.supplier }}</td>
            <td>{{ plainDay(l.slaughtered_on) }}</td>
            <td class="small">{{ moment(l.received_at) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-else-if="asked" class="small">No lot says “{{ asked }}”.</p>
      <p v-else class="small">
        Nothing yet. <RouterLink :to="{ name: 'receive' }">Receive the first lot</RouterLink>; its pieces then hang on
        the rail.
      </p>
      <MoreRows
        :more="hasNextPage"
        :busy="isFetchingNextPage"
        :label="asked ? 'Look in earlier lots too' : 'Earlier lots'"
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
tr.void td {
  color: var(--ink-2);
  text-decoration: line-through;
}
tr.void .small {
  text-decoration: none;
  display: inline-block;
}
</style>
