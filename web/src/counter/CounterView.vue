<script setup lang="ts">
// The counter as it should stand today, true to size; what gets no tray, and why; the page above it.
import { computed } from 'vue'
import StateNote from '../components/StateNote.vue'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import AboveLink from './AboveLink.vue'
import CounterPicture from './CounterPicture.vue'
import CounterRoom from './CounterRoom.vue'
import { useCounter } from './useCounter'

const { mass, money } = useShop()
const { may } = useMe()
const counter = useCounter()
const { data: v, error, isLoading, refetch } = counter
const things = computed(() => v.value?.trays.filter((t) => t.first).flatMap((t) => t.things) ?? [])
const sentence = computed(() => {
  if (!v.value) return say('The counter')
  if (!v.value.trays.length) return say('Nothing in stock fills a tray today.')
  return (
    say`${counted(things.value.length, 'product')} in ${counted(v.value.trays.length, 'tray')}` +
    (v.value.left.length ? say`; no tray for ${v.value.left.length}.` : '.')
  )
})
const why = { few: say('less than a tray’s worth'), full: say('the counter is full of what brings more') }
</script>

<template>
  <section class="page">
    <div class="spread">
      <h1 class="sentence" data-test="counter-sentence">{{ sentence }}</h1>
      <span class="row"
        ><RouterLink :to="{ name: 'labels' }">Price tickets</RouterLink
        ><RouterLink :to="{ name: 'instead' }">Instead of</RouterLink></span
      >
    </div>
    <StateNote :error="error" :loading="isLoading" what="the counter" @retry="refetch()" />
    <template v-if="v">
      <CounterPicture v-if="v.trays.length" :view="v" />
      <div class="two">
        <section v-if="things.length" aria-label="What stands in it">
          <table v-wide>
            <thead>
              <tr>
                <th>In it</th>
                <th class="n">There is</th>
                <th class="n">At the counter</th>
                <th class="n">A day sells</th>
                <th class="n">Price</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="t in things" :key="t.key">
                <td>
                  <RouterLink :to="{ name: 'instead', query: { of: t.key } }">{{ t.menu_name ?? t.name }}</RouterLink>
                </td>
                <td class="n">{{ mass(t.kg * 1000, 2) }}</td>
                <td class="n">{{ t.at_counter_g ? mass(t.at_counter_g, 2) : '–' }}</td>
                <td class="n">{{ mass(t.day_kg * 1000, 2) }}</td>
                <td class="n">{{ t.price ? `${money(t.price)}/${t.price_per}` : '–' }}</td>
              </tr>
            </tbody>
          </table>
        </section>
        <section v-if="v.left.length" aria-label="What finds no tray">
          <h2>No tray for</h2>
          <ul>
            <li v-for="t in v.left" :key="t.key">
              {{ t.menu_name ?? t.name }}, {{ mass(t.kg * 1000, 2) }}
              <span class="small">{{ t.why ? why[t.why] : '' }}</span>
            </li>
          </ul>
        </section>
      </div>
      <AboveLink v-if="may('PUT /counter/screen')" :on="v.screen" :version="v.room.version" :hang="counter.hang" />
      <CounterRoom v-if="may('PUT /counter')" :room="v.room" :keep="counter.set" />
    </template>
  </section>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 28px;
  margin-top: 14px;
}
li {
  margin: 4px 0;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
