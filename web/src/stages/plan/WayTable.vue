<script setup lang="ts">
// The ways to cut this piece as the columns of one table: what each brings, takes and gives, and the choice.
import { computed } from 'vue'
import PvButton from 'primevue/button'
import type { S } from '../../api/client'
import { byWorth } from '../../plans/byWorth'
import { portionWords } from '../../plans/portions'
import { useShop } from '../../shell/shop'
import { percent } from '../../words/shown'
import { useMe } from '../../shell/me'
import { vWide } from '../../components/wide'
import { say } from '../../words/say'

const props = defineProps<{
  ways: S['PlanForecast'][]
  /** What can be chosen within each, once it is known. */
  details?: S['PlanDetail'][]
  better?: string
  chosen?: string
  busy: boolean
}>()
const emit = defineEmits<{ choose: [string] }>()
const { bare, mass, money, pricePer, unit } = useShop()
const { may } = useMe()

/** A carcass: what it becomes is cut further before it is sold. */
const further = computed(() =>
  props.ways.some((w) => w.products.some((r) => r.id !== 'waste' && r.id !== 'loss' && !r.key)),
)
const sorted = computed(() => (further.value ? props.ways : byWorth(props.ways)))
const meat = (w: S['PlanForecast']) => w.products.filter((r) => r.kind === 'meat')
const gives = (r: S['OutputRow']) => `${r.name}, ${portionWords(r, bare, unit.value) || mass(r.weight_g, 2)}`
const choices = (w: S['PlanForecast']) => {
  const d = props.details?.find((x) => x.plan.id === w.plan.id)
  return [...(d?.options.map((o) => o.name) ?? []), ...(d?.cover ? [say('fat cover')] : [])].join(', ')
}
const fullName = (w: S['PlanForecast']) =>
  [w.plan.own && say`our own, version ${w.plan.version}`, w.plan.name !== w.plan.short && w.plan.name]
    .filter(Boolean)
    .join(': ')
const label = (w: S['PlanForecast']) => {
  if (w.plan.id === props.chosen) return say('Chosen')
  return props.chosen || props.ways.length > 5 ? say('Choose') : say('Cut it this way')
}
</script>

<template>
  <div v-wide class="ways" role="region" aria-label="The ways to cut it" :style="{ '--ways': ways.length }">
    <div class="way heads" aria-hidden="true">
      <span class="first" />
      <template v-if="!further"><span>Value</span><span>Value per weight</span></template>
      <span>Bench time</span><span>Saleable</span><span>Gives</span><span v-if="!further">To choose</span>
    </div>
    <article
      v-for="w in sorted"
      :key="w.plan.id"
      class="way"
      :class="{ better: w.plan.id === better, chosen: w.plan.id === chosen }"
      :data-plan="w.plan.id"
    >
      <header class="first">
        <h2>{{ w.plan.short }}</h2>
        <p class="small">{{ fullName(w) }}<strong v-if="w.plan.id === better" class="best"> pays best</strong></p>
        <PvButton
          v-if="may('PUT /pieces/{piece_id}/plan') || w.plan.id === chosen"
          :label="label(w)"
          :severity="w.plan.id === better && !chosen ? undefined : 'secondary'"
          :disabled="busy || w.plan.id === chosen"
          @click="emit('choose', w.plan.id)"
        />
        <p v-if="w.unpriced.length" class="fault">No price yet: {{ w.unpriced.join(', ') }}</p>
        <p v-for="a in w.grade_conflicts ?? []" :key="a.product + a.part" class="fault" data-test="grade-conflict">
          {{ a.sentence }}
        </p>
      </header>
      <template v-if="!further"
        ><p class="worth" data-of="Value">{{ money(w.totals.value) }}</p>
        <p data-of="Value per weight">{{ pricePer(w.totals.per_kg) }}</p></template
      >
      <p data-of="Bench time">{{ w.totals.minutes }} min</p>
      <p data-of="Saleable">{{ percent(w.saleable_pct) }}</p>
      <ul data-of="Gives">
        <li v-for="r in meat(w)" :key="r.id">{{ gives(r) }}</li>
      </ul>
      <p v-if="!further" data-of="To choose" class="small">{{ choices(w) || say('nothing') }}</p>
    </article>
  </div>
  <p v-if="ways.length > 6" class="small">
    {{ ways.length }} ways, after the first those that pay best; slide sideways for the rest.
  </p>
</template>

<style scoped>
.ways {
  display: grid;
  grid-template-columns: 74px repeat(var(--ways), minmax(138px, 1fr));
  overflow-x: auto;
  grid-template-rows: repeat(7, auto);
}
.way {
  display: grid;
  grid-row: span 7;
  grid-template-rows: subgrid;
  border-top: 4px solid var(--hairline);
  border-left: 1px solid var(--hairline);
  min-width: 0;
}
.way:last-child {
  border-right: 1px solid var(--hairline);
}
.way > * {
  padding: 7px 10px;
  border-bottom: 1px solid var(--hairline);
  margin: 0;
  min-width: 0;
}
.heads {
  border-left: 0;
  border-top-color: transparent;
  color: var(--ink-2);
  font-size: 13px;
  font-stretch: 84%;
  position: sticky;
  left: 0;
  z-index: 1;
  background: var(--ground);
}
.heads > * {
  padding-left: 0;
}
.way:not(.heads) {
  background: var(--surface);
}
.better {
  border-top-color: var(--act);
}
.chosen {
  box-shadow: inset 0 0 0 2px var(--act);
}
header {
  display: flex;
  flex-direction: column;
  gap: 6px;
}
header :deep(.p-button) {
  padding-inline: 6px;
  margin-top: auto;
}
h2 {
  font-size: 17px;
  overflow-wrap: break-word;
}
.best {
  color: var(--act);
}
.worth {
  font-size: 22px;
  font-weight: 750;
}
ul {
  list-style: none;
  font-size: 13px;
}
li {
  padding: 1px 0;
}
@media (max-width: 1280px) {
  .way > * {
    padding-inline: 8px;
  }
  .worth {
    font-size: 19px;
  }
}
@media (max-width: 760px) {
  .ways {
    grid-template-columns: minmax(0, 1fr);
    grid-template-rows: none;
    gap: 14px;
  }
  .heads {
    display: none;
  }
  .way {
    grid-template-columns: 1fr 1fr;
    grid-template-rows: none;
    grid-row: auto;
    border-right: 1px solid var(--hairline);
  }
  .way > header,
  .way > ul,
  .way > [data-of='To choose'] {
    grid-column: 1 / -1;
  }
  [data-of]::before {
    content: attr(data-of);
    display: block;
    font-size: 13px;
    font-weight: 500;
    font-stretch: 84%;
    color: var(--ink-2);
  }
}
</style>
