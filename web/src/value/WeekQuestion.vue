<script setup lang="ts">
// What is killed, and what there is to cut it with.
import { computed } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { useCarcasses } from '../atlas/useCarcasses'
import DayPick from '../components/DayPick.vue'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import type { Problem } from '../api/problem'
import { useShop } from '../shell/shop'
import { say } from '../words/say'
import { headsOf, headsText, type Head } from './weekHeads'

const props = defineProps<{ problem?: Problem; busy: boolean }>()
const form = defineModel<{ heads: string; minutes: string; saw: string; days: string; loss: string; open: boolean }>({
  required: true,
})
const emit = defineEmits<{ ask: [] }>()
const { unit } = useShop()
const { data: carcasses } = useCarcasses()
const fault = (f: string) => props.problem?.at(f) ?? ''
const heads = computed(() => headsOf(form.value.heads))
const write = (list: Head[]) => (form.value.heads = headsText(list))
const change = (i: number, to: Partial<Head>) => write(heads.value.map((h, k) => (k === i ? { ...h, ...to } : h)))
</script>

<template>
  <form class="ask no-print" novalidate aria-label="What is killed" @submit.prevent="emit('ask')">
    <div v-for="(h, i) in heads" :key="i" class="row">
      <FormField :id="`week-count-${i}`" label="How many" :fault="fault(`heads[${i}].count`)"
        ><InputText
          :id="`week-count-${i}`"
          :model-value="h.count"
          class="short"
          inputmode="numeric"
          autocomplete="off"
          @update:model-value="change(i, { count: $event ?? '' })"
      /></FormField>
      <FormField :id="`week-carcass-${i}`" label="Of" :fault="fault(`heads[${i}].carcass`)"
        ><PickOne
          :id="`week-carcass-${i}`"
          :model-value="h.carcass"
          :options="carcasses"
          @update:model-value="change(i, { carcass: $event ?? '' })"
      /></FormField>
      <FormField :id="`week-weight-${i}`" :label="say`Each, ${unit}`" :fault="fault(`heads[${i}].weight`)"
        ><InputText
          :id="`week-weight-${i}`"
          :model-value="h.weight"
          class="short"
          inputmode="decimal"
          placeholder="usual"
          autocomplete="off"
          @update:model-value="change(i, { weight: $event ?? '' })"
      /></FormField>
      <FormField
        :id="`week-killed-${i}`"
        label="Slaughtered on"
        :fault="fault(`heads[${i}].slaughtered_on`)"
        hint="Empty: all of it is ripe"
        ><DayPick
          :id="`week-killed-${i}`"
          :model-value="h.killed"
          @update:model-value="change(i, { killed: $event ?? '' })"
      /></FormField>
      <PvButton v-if="heads.length > 1" text label="Leave out" @click="write(heads.filter((_, k) => k !== i))" />
    </div>
    <div class="row">
      <PvButton
        v-if="heads.length < 4"
        text
        label="Another kind"
        @click="write([...heads, { carcass: '', count: '1', weight: '', killed: '' }])"
      />
      <FormField id="week-minutes" label="Bench minutes" :fault="fault('minutes')" hint="Empty: no limit"
        ><InputText id="week-minutes" v-model="form.minutes" class="short" inputmode="decimal" autocomplete="off"
      /></FormField>
      <FormField id="week-saw" label="Saw minutes" :fault="fault('saw_minutes')" hint="Empty: no limit"
        ><InputText id="week-saw" v-model="form.saw" class="short" inputmode="decimal" autocomplete="off"
      /></FormField>
      <FormField id="week-days" label="To be sold in, days" :fault="fault('days')"
        ><InputText id="week-days" v-model="form.days" class="short" inputmode="numeric" autocomplete="off"
      /></FormField>
      <FormField
        v-if="heads.some((h) => h.killed)"
        id="week-loss"
        label="Ageing takes, % a day"
        :fault="fault('ageing_loss_pct')"
        hint="Empty: nothing, as in a bag"
        ><InputText id="week-loss" v-model="form.loss" class="short" inputmode="decimal" autocomplete="off"
      /></FormField>
      <label class="tick-line"><input v-model="form.open" type="checkbox" /> meet open orders</label>
      <PvButton type="submit" label="Reckon it" :loading="busy" data-test="week-ask" />
    </div>
  </form>
</template>

<style scoped>
.row {
  flex-wrap: wrap;
  align-items: start;
  gap: 12px;
  margin: 8px 0;
}
.row > :is(button, .tick-line) {
  margin-top: 22px;
}
.short {
  width: 110px;
}
</style>
