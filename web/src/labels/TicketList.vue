<script setup lang="ts">
// Price tickets: what stands in the counter is ticked; any product that lies in stock can be.
import { computed, ref } from 'vue'
import PvButton from 'primevue/button'
import FetchBar from '../components/FetchBar.vue'
import type { S } from '../api/client'
import { useDownload } from '../api/useDownload'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { asJson } from './useLabels'

const props = defineProps<{ tubs: S['Tub'][] }>()
const { pricePer } = useShop()
const products = computed(() => {
  const out = new Map<string, { key: string; name: string; price: string; counter: boolean }>()
  for (const t of props.tubs) {
    if (t.left_g <= 0 || t.kind === 'stream') continue
    const was = out.get(t.key)
    out.set(t.key, {
      key: t.key,
      name: t.species && t.kind === 'product' ? `${t.name}, ${t.species}` : t.name,
      price: t.price ? pricePer(t.price) : say('no price'),
      counter: (was?.counter ?? false) || t.place === 'counter',
    })
  }
  return [...out.values()].sort((a, b) => a.name.localeCompare(b.name))
})
const picked = ref<string[]>([])
const atCounter = computed(() => products.value.filter((p) => p.counter).map((p) => p.key))
const { busy, part, problem, download } = useDownload()
const fetchThem = () => download('/api/v1/tickets/pdf', asJson({ products: picked.value }))
</script>

<template>
  <section class="tickets">
    <h2>Price tickets</h2>
    <p v-if="!products.length" class="small">Nothing that is sold lies in stock.</p>
    <template v-else>
      <ul>
        <li v-for="p in products" :key="p.key">
          <label class="tick"
            ><input v-model="picked" type="checkbox" :value="p.key" /> {{ p.name }}
            <span class="small">{{ p.price }}</span></label
          >
        </li>
      </ul>
      <div class="row">
        <PvButton
          severity="secondary"
          :label="picked.length ? say`${counted(picked.length, 'ticket')} as PDF` : say('Tickets as PDF')"
          :disabled="!picked.length || busy"
          data-test="tickets"
          @click="fetchThem"
        />
        <PvButton v-if="atCounter.length" text label="All that stands in the counter" @click="picked = atCounter" />
        <PvButton text label="All" @click="picked = products.map((p) => p.key)" />
        <FetchBar v-if="busy" :part="part" label="The tickets are being fetched" />
      </div>
      <p v-if="problem" class="fault" role="alert">{{ problem.errors[0]?.message ?? problem.message }}</p>
    </template>
  </section>
</template>

<style scoped>
.tickets {
  margin-top: 28px;
}
ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
  columns: 3 280px;
}
li {
  break-inside: avoid;
}
</style>
