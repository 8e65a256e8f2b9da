<script setup lang="ts">
// The first hour of a new shop: what is needed for the first answer, each ticked as it is done; gone when all are, or
// when it is put away.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../../api/keys'
import { data, GET, type S } from '../../api/client'
import ExampleOffer from '../../shell/ExampleOffer.vue'
import { firstStepsGone } from '../../shell/preferences'
import { useShop } from '../../shell/shop'
import { counted, say } from '../../words/say'

const props = defineProps<{ cards: S['PieceCard'][] }>()
const { shop } = useShop()

const { data: prices } = useQuery({ queryKey: keyOf('prices'), queryFn: () => data(GET('/prices')) })
const { data: benches } = useQuery({ queryKey: keyOf('benches'), queryFn: () => data(GET('/benches')) })
const { data: people } = useQuery({ queryKey: keyOf('people'), queryFn: () => data(GET('/people')) })
const { data: lots } = useQuery({ queryKey: keyOf('lots', 'first'), queryFn: () => data(GET('/lots')) })

const known = computed(() => prices.value?.filter((p) => p.price && !p.guess).length ?? 0)
const guessed = computed(() => prices.value?.filter((p) => p.guess).length ?? 0)
const scales = computed(() => benches.value?.filter((b) => b.active && b.has_scale).length ?? 0)
const answered = computed(() => props.cards.some((c) => c.stage === 'judge' || c.stage === 'compare'))
const started = computed(() => !!lots.value?.lots.length)

const steps = computed(() => [
  {
    id: 'prices',
    done: known.value + guessed.value >= 20,
    text: say('Prices'),
    says: known.value
      ? say`${known.value} known, ${guessed.value} guessed`
      : say('enter a few that you know by heart, the rest is guessed'),
    to: { name: 'prices' },
  },
  {
    id: 'benches',
    done: !!benches.value?.some((b) => b.active),
    text: say('Benches'),
    says: benches.value?.map((b) => b.name).join(', ') ?? '',
    to: { name: 'benches' },
  },
  {
    id: 'scale',
    done: scales.value > 0 || answered.value,
    text: say('A scale'),
    says: scales.value
      ? say`on ${counted(scales.value, 'bench', 'benches')}`
      : answered.value
        ? say('weights are typed')
        : say('connect one, or type the weights'),
    to: { name: 'benches' },
  },
  {
    id: 'people',
    done: (people.value?.length ?? 0) > 1,
    text: say('People'),
    says: (people.value?.length ?? 0) > 1 ? counted(people.value!.length, 'person', 'people') : say('invite who cuts'),
    to: { name: 'people' },
  },
  {
    id: 'box',
    done: started.value,
    text: say('The first box'),
    says: started.value ? lots.value!.lots.at(-1)!.lot_number : say('receive it, and its pieces hang here'),
    to: { name: 'receive' },
  },
  {
    id: 'answer',
    done: answered.value,
    text: say('The first answer'),
    says: answered.value ? say('it is there') : say('cut a piece, and see whether it paid'),
    to: { name: 'receive' },
  },
])
const ready = computed(() => prices.value && benches.value && people.value && lots.value)
const gone = computed(() => firstStepsGone.value.split(' ').includes(shop.value?.id ?? ''))
const shown = computed(
  () => ready.value && shop.value && !shop.value.demo && !gone.value && steps.value.some((s) => !s.done),
)
const putAway = () => (firstStepsGone.value = `${firstStepsGone.value} ${shop.value?.id ?? ''}`.trim())
</script>

<template>
  <section v-if="shown" class="first no-print" aria-labelledby="first-steps" data-test="first-steps">
    <div class="spread">
      <h2 id="first-steps">To the first answer</h2>
      <PvButton text label="Put this away" @click="putAway" />
    </div>
    <ol>
      <li v-for="s in steps" :key="s.id" :class="{ done: s.done }" :data-step="s.id">
        <span class="mark" aria-hidden="true">{{ s.done ? '✓' : '' }}</span>
        <span>
          <RouterLink :to="s.to">{{ s.text }}</RouterLink><span v-if="s.done" class="vh">, done</span><br />
          <span class="small">{{ s.says }}</span>
        </span>
      </li>
    </ol>
    <ExampleOffer />
  </section>
</template>

<style scoped>
.first {
  margin: 4px 0 22px;
  border-top: 4px solid var(--ink);
  padding-top: 10px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(180px, 1fr));
  gap: 4px 20px;
}
li {
  display: grid;
  grid-template-columns: 26px 1fr;
  gap: 10px;
  align-items: start;
  padding: 8px 0;
}
li a {
  font-weight: 650;
}
.mark {
  width: 24px;
  height: 24px;
  border: 2px solid var(--ink);
  border-radius: 2px;
  display: inline-flex;
  align-items: center;
  justify-content: center;
  font-weight: 700;
}
.done .mark {
  background: var(--ink);
  color: var(--surface);
}
</style>
