<script setup lang="ts">
// All that anything of a lot may be in: what was cut of it, and what was made of that.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import FileLinks from '../components/FileLinks.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET } from '../api/client'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import TraceTable from './TraceTable.vue'
import { say } from '../words/say'

const props = defineProps<{ lot: string }>()
const { mass } = useShop()
const { may } = useMe()
const {
  data: r,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('recall', props.lot)),
  queryFn: () => data(GET('/lots/{lot_id}/recall', { params: { path: { lot_id: props.lot } } })),
})
const there = computed(() => [...(r.value?.cut ?? []), ...(r.value?.made ?? [])].reduce((g, x) => g + x.left_g, 0))
const sentence = computed(() => {
  const x = r.value
  if (!x?.cut.length) return say`Nothing of ${x?.lot_number} has been in stock.`
  const n = x.cut.length + x.made.length
  return say`${x.lot_number} may be in ${n} goods, of which ${mass(there.value, 2)} is still here.`
})
const path = computed(() => `/api/v1/lots/${props.lot}/recall/export?format=`)
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the recall list" @retry="refetch()" />
    <template v-if="r">
      <div class="spread">
        <h1 class="sentence" data-test="recall">{{ sentence }}</h1>
        <FileLinks
          v-if="may('GET /lots/{lot_id}/recall/export')"
          lead="The list as"
          :files="[
            { label: 'CSV', href: path + 'csv' },
            { label: 'XLSX', href: path + 'xlsx' },
          ]"
        />
      </div>
      <template v-if="r.cut.length">
        <h2>Cut of it</h2>
        <TraceTable :rows="r.cut" />
      </template>
      <template v-if="r.made.length">
        <h2>Made of that</h2>
        <TraceTable :rows="r.made" />
      </template>
      <p class="small">
        What lies in one tub is mixed: a batch that took from it is listed whichever piece it took from. What was sold
        before the stock was begun is not here.
      </p>
    </template>
  </section>
</template>
