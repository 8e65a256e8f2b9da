<script setup lang="ts">
// What one does next with a lot that has just come in; it stands as long as the address says so.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'
import { keyOf } from '../../api/keys'
import { data, GET } from '../../api/client'
import { counted } from '../../words/say'

const route = useRoute()
const id = computed(() => (typeof route.query.received === 'string' ? route.query.received : ''))
const { data: d } = useQuery({
  queryKey: computed(() => keyOf('lot', id.value)),
  queryFn: () => data(GET('/lots/{lot_id}', { params: { path: { lot_id: id.value } } })),
  enabled: computed(() => !!id.value),
  retry: false,
})
const unplanned = computed(() => d.value?.cards.find((c) => c.stage === 'plan'))
</script>

<template>
  <p v-if="id && d" class="received no-print" role="status" data-test="received">
    <strong>{{ d.lot.lot_number }} received, {{ counted(d.lot.pieces, 'piece') }}.</strong>
    <RouterLink v-if="unplanned && route.name !== 'plan'" :to="{ name: 'plan', params: { piece: unplanned.id } }"
      >Plan it</RouterLink
    >
    <a :href="`/api/v1/lots/${d.lot.id}/tags.pdf`" target="_blank">Print its tags</a>
    <RouterLink :to="{ name: 'receive', query: { like: d.lot.id } }">Another of this delivery</RouterLink>
    <RouterLink :to="{ name: 'lot', params: { lot: d.lot.id } }">The lot</RouterLink>
  </p>
</template>

<style scoped>
.received {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 20px;
  padding: 2px 0;
}
.received a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
</style>
