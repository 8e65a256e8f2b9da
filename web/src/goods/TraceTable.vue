<script setup lang="ts">
// Goods with where they come from and where they lie.
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { plainDay } from '../words/shown'
import { placeNames } from './tubWords'
import { say } from '../words/say'

defineProps<{ rows: S['TraceStep'][]; used?: boolean }>()
const { mass } = useShop()
</script>

<template>
  <table v-wide>
    <thead>
      <tr>
        <th>What</th>
        <th>Lot</th>
        <th>Made</th>
        <th class="n">{{ used ? say('Went in') : say('Made of it') }}</th>
        <th class="n">Left</th>
        <th>Where</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(x, i) in rows" :key="i">
        <td>{{ x.name }}</td>
        <td>
          <RouterLink v-if="x.lot" :to="{ name: 'lot', params: { lot: x.lot } }">{{
            x.lot_number
          }}</RouterLink><RouterLink v-else-if="x.batch" :to="{ name: 'making', params: { making: x.batch } }">{{
            x.lot_number
          }}</RouterLink>
          <span v-if="x.supplier" class="small">{{ x.supplier }}, slaughtered {{ plainDay(x.slaughtered_on!) }}</span>
        </td>
        <td>{{ plainDay(x.made_on) }}</td>
        <td class="n">{{ mass(used ? (x.used_g ?? 0) : x.made_g) }}</td>
        <td class="n">{{ mass(x.left_g) }}</td>
        <td>{{ x.left_g > 0 ? (placeNames[x.place] ?? x.place) : say('gone') }}</td>
      </tr>
    </tbody>
  </table>
</template>
