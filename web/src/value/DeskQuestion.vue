<script setup lang="ts">
// What is compared: a kind of piece, two to six options, and what else the answer depends on.
import PvButton from 'primevue/button'
import PickOne from '../components/PickOne.vue'
import type { Problem } from '../api/problem'
import { useShop } from '../shell/shop'
import SidePicker from './SidePicker.vue'
import { useAtlasPieces } from '../atlas/useAtlasPieces'
import { useBook } from './useBook'
import type { DeskQuestion } from './useDeskQuestion'
import { say } from '../words/say'

const props = defineProps<{ problem?: Problem }>()
const form = defineModel<DeskQuestion>({ required: true })
const emit = defineEmits<{ kind: [string] }>()
const { unit } = useShop()
const { prices, markets } = useBook()
const { data: pieces } = useAtlasPieces()
const fault = (field: string) =>
  props.problem?.errors.find((e) => e.field === field || e.field.startsWith(`${field}.`))?.message ?? ''
const add = () => form.value.alternatives.push({ kind: 'group', atlas_id: form.value.atlas })
</script>

<template>
  <form class="ask no-print" novalidate aria-label="What is compared" @submit.prevent>
    <span class="which"
      >Ways of cutting
      <PickOne
        :model-value="form.atlas"
        label="Kind of piece"
        :options="pieces"
        @update:model-value="emit('kind', $event)"
    /></span>
    <SidePicker
      v-for="(p, i) in form.alternatives"
      :key="i"
      :pick="p"
      :atlas="form.atlas"
      :place="i"
      :fault="fault(`alternatives[${i}]`)"
      @change="form.alternatives[i] = $event"
      @drop="form.alternatives.splice(i, 1)"
    />
    <div class="row more">
      <PvButton v-if="form.alternatives.length < 6" text label="Add an option" @click="add" />
      <label
        >What if the block costs
        <input
          v-model.lazy="form.block"
          class="short"
          inputmode="decimal"
          :aria-invalid="!!fault('block_price')"
          aria-label="Price of the block"
        />
        a {{ unit }}</label
      >
      <label
        >leave <input v-model.lazy="form.margin" class="short" inputmode="decimal" aria-label="Margin, per cent" /> %
        margin</label
      >
      <span v-if="markets?.length"
        >at the prices of
        <PickOne
          v-model="form.market"
          label="Market"
          :options="markets.filter((x) => !x.main && x.active)"
          :none="markets.find((m) => m.main)?.name"
      /></span>
      <PvButton
        v-if="!form.sold"
        severity="secondary"
        :label="form.today ? say('Prices of their day') : say('Use today’s prices')"
        data-test="reprice"
        @click="form.today = !form.today"
      />
      <PvButton
        severity="secondary"
        :label="form.sold ? say('By prices again') : say('As it really sold')"
        data-test="as-sold"
        @click="form.sold = form.sold ? '' : '28'"
      />
      <label v-if="form.sold"
        >in the last
        <input
          v-model.lazy="form.sold"
          class="short"
          inputmode="numeric"
          :aria-invalid="!!fault('sold_days')"
          aria-label="Days of sales"
        />
        days</label
      >
    </div>
    <details class="chain">
      <summary>
        What does not sell becomes
        {{ form.chain.some((c) => c.key) ? say('what is chosen here') : say('cubes, of which half sells, then trim') }}
      </summary>
      <div v-for="(c, i) in form.chain" :key="i" class="row">
        <PickOne
          v-model="c.key"
          :label="say`Step ${i + 1} of the chain`"
          :options="prices?.filter((x) => x.price)"
          by="key"
          none="choose a product"
        /><label v-if="i < form.chain.length - 1"
          >of which
          <input
            v-model.lazy="c.sells"
            class="short"
            inputmode="decimal"
            :aria-label="say`Sells at step ${i + 1}, per cent`"
          />
          % sells, the rest becomes</label
        ><span v-else>where all of it sells</span><PvButton text label="Remove" @click="form.chain.splice(i, 1)" />
      </div>
      <PvButton
        v-if="form.chain.length < 5"
        text
        label="Add a step"
        @click="form.chain.push({ key: '', sells: '50' })"
      />
    </details>
    <p v-if="fault('block_price') || fault('margin_pct') || fault('sold_days')" class="fault" role="alert">
      {{ fault('block_price') || fault('margin_pct') || fault('sold_days') }}
    </p>
    <p v-if="problem?.errors.some((e) => e.field.startsWith('chain'))" class="fault" role="alert">
      The chain {{ problem.errors.find((e) => e.field.startsWith('chain'))?.message }}.
    </p>
  </form>
</template>

<style scoped>
.ask {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.which {
  font-weight: 650;
}
.more {
  gap: 8px 22px;
  flex-wrap: wrap;
}
.more label {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 44px;
}
.short {
  font: inherit;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  max-width: 320px;
}
.short {
  width: 76px;
  text-align: right;
  padding: 0 8px;
}
summary {
  cursor: pointer;
  min-height: 36px;
  padding-top: 6px;
}
.chain .row {
  flex-wrap: wrap;
  gap: 8px;
  margin-bottom: 6px;
}
</style>
