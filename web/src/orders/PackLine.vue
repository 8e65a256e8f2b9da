<script setup lang="ts">
// Packing a line: from which tub, how heavy by scale or typed, how many packs; and what was packed, each taken back
// with a touch.
import { computed, reactive, watch } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useWeighed } from '../bench/useWeighed'
import { useFeedback } from '../feedback/useFeedback'
import { placeNames } from '../goods/tubWords'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { moment, plainDay } from '../words/shown'

const props = defineProps<{
  line: S['OrderLine']
  place: number
  packs: S['Packing'][]
  tubs: S['Tub'][]
  pack: (p: Omit<S['NewPacking'], 'id' | 'at'>) => Promise<() => unknown>
  unpack: (id: string) => Promise<void>
}>()
const { unit, mass } = useShop()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const form = reactive({ tub: '', weight: '', count: '' })
watch(form, () => (problem.value = undefined))
const choices = computed(() =>
  props.tubs.map((t) => ({
    id: t.id,
    name:
      say`${placeNames[t.place] ?? t.place}, cut ${plainDay(t.made_on)}: ${mass(t.left_g, 2)}, ` +
      say`use by ${plainDay(t.use_by)}`,
  })),
)
/** The tub that must go first is chosen once; whoever takes another, or none, keeps that. */
let begun = false
watch(
  () => props.tubs,
  (list) => {
    const gone = form.tub !== '' && !list.some((t) => t.id === form.tub)
    if (gone || (!begun && list.length)) form.tub = list[0]?.id ?? ''
    begun ||= list.length > 0
  },
  { immediate: true },
)
const { bench, benches, placeholder, there, weighed } = useWeighed()
const fault = (f: string) => problem.value?.at(f) ?? ''
const id = (f: string) => `pack-${props.place}-${f}`

const book = () =>
  attempt(async () => {
    const undo = await props.pack({
      line: props.place,
      ...(form.tub && { tub: form.tub }),
      ...weighed(form.weight),
      ...(Number(form.count) > 0 && { count: Math.round(Number(form.count)) }),
    })
    done(say`${props.line.name}: packed.`, undo)
    Object.assign(form, { weight: '', count: '' })
  })
const takeBack = (p: S['Packing']) =>
  attempt(async () => {
    await props.unpack(p.id)
    done(p.from_tub ? say('Taken back; it lies in stock again.') : say('Taken back.'))
  })
</script>

<template>
  <div class="pack">
    <form novalidate :aria-label="say`Pack ${line.name}`" @submit.prevent="book">
      <FormField
        :id="id('tub')"
        label="From"
        :fault="fault('tub')"
        :hint="tubs.length ? '' : say('Nothing of it lies in stock; what is packed is kept with the order alone.')"
        ><PickOne :id="id('tub')" v-model="form.tub" :options="choices" none="not from stock"
      /></FormField>
      <FormField :id="id('weight')" :label="say`Weight, ${unit}`" :fault="fault('weight')"
        ><InputText
          :id="id('weight')"
          v-model="form.weight"
          class="short"
          inputmode="decimal"
          :placeholder="placeholder"
          :invalid="!!fault('weight')"
          autocomplete="off"
      /></FormField>
      <FormField :id="id('count')" label="Packs" :fault="fault('count')"
        ><InputText
          :id="id('count')"
          v-model="form.count"
          class="short"
          inputmode="numeric"
          :invalid="!!fault('count')"
          autocomplete="off"
      /></FormField>
      <FormField v-if="benches.length" :id="id('bench')" label="Scale of"
        ><PickOne :id="id('bench')" v-model="bench" :options="benches" none="no scale, I type"
      /></FormField>
      <PvButton type="submit" label="Book" :loading="busy" :disabled="!there(form.weight)" data-test="pack" />
    </form>
    <p v-if="problem?.rest(['tub', 'weight', 'count'])" class="fault" role="alert">
      {{ problem.rest(['tub', 'weight', 'count']) }}
    </p>
    <ul v-if="packs.length" class="packs">
      <li v-for="p in packs" :key="p.id">
        {{ mass(p.weight_g) }}<template v-if="p.count"> in {{ counted(p.count, 'pack') }}</template
        >, {{ moment(p.at) }}<template v-if="!p.from_tub">, not from stock</template>
        <PvButton text label="Take back" :disabled="busy" @click="takeBack(p)" />
      </li>
    </ul>
  </div>
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: end;
  padding: 8px 0;
}
.short {
  width: 120px;
}
.packs {
  list-style: none;
  margin: 0;
  padding: 0;
}
.packs li {
  display: flex;
  gap: 14px;
  align-items: center;
}
</style>
