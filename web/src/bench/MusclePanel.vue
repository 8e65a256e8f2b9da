<script setup lang="ts">
// A muscle, opened: its products and what is dressed off it are weighed in a balance of its own.
import { computed, defineAsyncComponent, ref } from 'vue'
import PvButton from 'primevue/button'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { percent, shortName } from '../words/shown'
import { muscleOf, type Inside, type InsideItem } from './useInside'
import { say } from '../words/say'

const PortionBox = defineAsyncComponent(() => import('../body/PortionBox.vue'))
const props = defineProps<{
  inside: Inside
  /** The piece of the atlas that it is of. */
  piece: string
  picked?: string
  count: string
  products: S['PlanProduct'][]
  problem?: string
}>()
const emit = defineEmits<{ pick: [string]; count: [string]; done: [string]; back: [] }>()
const { bare, mass, unit } = useShop()
const portioning = ref(false)
const left = computed(() => props.inside.weight - props.inside.output)
const target = (i: InsideItem) => props.products.find((p) => `product:${p.id}` === i.key)?.portion_g ?? 0
/** What was given away: the weight of the portions beyond their target. */
const giveAway = (i: InsideItem) => (target(i) && i.count ? i.taken - i.count * target(i) : undefined)
const high = computed(() => left.value > props.inside.weight * 0.03)
</script>

<template>
  <section class="inside" :aria-label="say`Inside ${inside.name}`" data-test="inside">
    <div class="spread">
      <h2>{{ inside.name }}, {{ mass(inside.weight) }}</h2>
      <strong data-test="inside-left">{{ bare(left) }} {{ unit }} left</strong>
      <span class="row"
        ><PvButton
          v-if="inside.output > 0"
          :label="high ? say`Done, ${percent((left / inside.weight) * 100)} missing` : say('Done with it')"
          data-test="inside-done"
          @click="emit('done', high ? say('left on the board, seen by the cutter') : '')" /><PvButton
          severity="secondary"
          label="Back"
          data-test="inside-back"
          @click="emit('back')"
      /></span>
    </div>
    <div class="list">
      <button
        v-for="i in inside.items"
        :key="i.key"
        type="button"
        class="item"
        :class="{ done: i.times, picked: picked === i.key }"
        :data-inside="i.key"
        @click="emit('pick', i.key)"
      >
        <span class="kind" :class="i.kind === 'end' ? 'muscle' : i.kind" aria-hidden="true" /><span class="name"
          >{{ shortName(i.name)
          }}<span v-if="i.count" class="small">
            × {{ i.count
            }}<template v-if="giveAway(i) !== undefined"
              >,
              {{
                giveAway(i)! >= 0 ? say`${mass(giveAway(i)!)} given away` : say`${mass(-giveAway(i)!)} short`
              }}</template
            ></span
          ></span
        >
        <span class="n">{{ i.times ? bare(i.taken) : i.expected ? say`about ${bare(i.expected, 2)}` : '' }}</span>
      </button>
    </div>
    <div class="row counts" role="group" aria-label="How many portions lie on the scale">
      <span class="label">Portions on the scale</span>
      <button
        v-for="n in ['', '1', '2', '3', '4', '5', '6']"
        :key="n"
        type="button"
        class="n-key"
        :class="{ on: count === n }"
        @click="emit('count', n)"
      >
        {{ n || say('none') }}
      </button>
      <button
        type="button"
        class="n-key"
        :class="{ on: portioning }"
        :aria-expanded="portioning"
        data-test="portion-it"
        @click="portioning = !portioning"
      >
        Where to cut
      </button>
    </div>
    <PortionBox
      v-if="portioning"
      :key="inside.node"
      :piece="piece"
      :part="muscleOf(inside.part)"
      :weight-g="inside.weight"
      @keydown.stop
    />
    <p v-if="problem" class="fault" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.inside {
  border: 2px solid var(--ink);
  background: var(--surface);
  padding: 10px 12px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.list {
  display: grid;
  grid-template-columns: 1fr 1fr;
  column-gap: 10px;
}
.item {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 56px;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  background: none;
  padding: 4px 6px;
  text-align: left;
  cursor: pointer;
  font-stretch: 88%;
}
.item.picked {
  background: var(--act-wash);
  font-weight: 700;
}
.item .name {
  flex: 1;
}
.item.done .n {
  font-weight: 700;
}
.n-key {
  min-height: 56px;
  min-width: 56px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  cursor: pointer;
  font-weight: 650;
  padding: 0 8px;
}
.n-key.on {
  background: var(--ink);
  color: var(--surface);
}
.counts {
  gap: 4px;
}
.spread {
  align-items: center;
  flex-wrap: wrap;
}
h2,
strong {
  white-space: nowrap;
}
@media (max-width: 700px) {
  .list {
    grid-template-columns: 1fr;
  }
}
</style>
