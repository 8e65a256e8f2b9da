<script setup lang="ts">
// The pieces of a lot with where they hang, and what it was broken into.
import PvButton from 'primevue/button'
import type { S } from '../../api/client'
import { useMe } from '../../shell/me'
import { useShop } from '../../shell/shop'
import { workplace } from '../rail/useRail'
import { say } from '../../words/say'

defineProps<{ lot: S['LotDetail'] }>()
const emit = defineEmits<{ void: [S['PieceCard']] }>()
const { bare, mass, money, unit } = useShop()
const { may } = useMe()
</script>

<template>
  <h2>Its pieces</h2>
  <table v-wide>
    <thead>
      <tr>
        <th>Piece</th>
        <th class="n">{{ unit }}</th>
        <th>Where it hangs</th>
        <th><span class="vh">Change</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="c in lot.cards" :key="c.id" :class="{ void: c.voided_at }">
        <td>
          <RouterLink v-if="!c.voided_at" :to="workplace(c)">{{ c.number }} of {{ c.of }}</RouterLink
          ><template v-else>{{ c.number }} of {{ c.of }}</template>
        </td>
        <td class="n">{{ bare(c.weight_g, 2) }}</td>
        <td>
          {{
            c.voided_at
              ? say`voided: ${c.void_reason}`
              : c.carcass && c.closed_at
                ? say('broken')
                : say`${c.stage}, waits for ${c.waits_for}`
          }}
        </td>
        <td class="n">
          <PvButton
            v-if="may('PUT /pieces/{piece_id}/void') && !c.breakdown_id && !lot.lot.voided_at && lot.cards.length > 1"
            text
            :label="c.voided_at ? say('Take back') : say('Void')"
            :aria-label="say`${c.voided_at ? say('Take back') : say('Void')} piece ${c.number}`"
            @click="emit('void', c)"
          />
        </td>
      </tr>
    </tbody>
  </table>
  <template v-if="lot.broken.length"
    ><h2 class="gap">What it was broken into</h2>
    <table v-wide>
      <tbody>
        <tr v-for="l in lot.broken" :key="l.id">
          <td>
            <RouterLink :to="{ name: 'lot', params: { lot: l.id } }">{{ l.lot_number }}</RouterLink>
          </td>
          <td>{{ l.pieces }} × {{ l.name }}</td>
          <td class="n">{{ mass(l.total_g, 2) }}</td>
          <td class="n">{{ money(l.cost) }}</td>
        </tr>
      </tbody>
    </table>
    <p class="small">
      What bone, fat and trim bring is taken off its cost first; the rest is shared by what each piece brings cut the
      traditional way, or by weight where a price is missing.
    </p></template
  >
</template>

<style scoped>
.gap {
  margin-top: 20px;
}
tr.void td {
  color: var(--ink-2);
}
</style>
