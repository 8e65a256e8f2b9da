<script setup lang="ts">
// What is killed, and what there is to cut it with.
import { computed } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { useCarcasses } from '../atlas/useCarcasses'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import type { Problem } from '../api/problem'
import { useShop } from '../shell/shop'
import { say } from '../words/say'

const props = defineProps<{ problem?: Problem; busy: boolean }>()
const form = defineModel<{ heads: string; minutes: string; saw: string; days: string; open: boolean }>({
  required: true,
})
const emit = defineEmits<{ ask: [] }>()
const { unit } = useShop()
const { data: carcasses } = useCarcasses()
const fault = (f: string) => props.problem?.at(f) ?? ''
interface Head {
  carcass: string
  count: string
  weight: string
}
const heads = computed<Head[]>(() =>
  form.value.heads.split('|').map((h) => {
    const [carcass = '', count = '', weight = ''] = h.split('~')
    return { carcass, count, weight }
  }),
)
const write = (list: Head[]) => (form.value.heads = list.map((h) => `${h.carcass}~${h.count}~${h.weight}`).join('|'))
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
      <PvButton v-if="heads.length > 1" text label="Leave out" @click="write(heads.filter((_, k) => k !== i))" />
    </div>
    <div class="row">
      <PvButton
        v-if="heads.length < 4"
        text
        label="Another kind"
        @click="write([...heads, { carcass: '', count: '1', weight: '' }])"
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
      <label class="tick-line"><input v-model="form.open" type="checkbox" /> meet open orders</label>
      <PvButton type="submit" label="Reckon it" :loading="busy" data-test="week-ask" />
    </div>
  </form>
</template>

<style scoped>
.row {
  flex-wrap: wrap;
  align-items: end;
  gap: 12px;
  margin: 8px 0;
}
.short {
  width: 110px;
}
</style>
