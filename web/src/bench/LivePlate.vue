<script setup lang="ts">
// The big plate: the live weight, what it will be booked as, and one touch to book it.
import { computed } from 'vue'
import { useShop } from '../shell/shop'
import type { Reading } from './useScale'
import { say } from '../words/say'

const props = defineProps<{
  reading: Reading
  typed: string
  typedG?: number
  typedFault: string
  what: string
  hint: string
  canBook: boolean
  held?: boolean
  tub?: string
  flash: boolean
  quiet: string
  /** What speaks against the weight, before it is booked. */
  doubt?: string
}>()
const emit = defineEmits<{ book: [] }>()
const { bare, unit } = useShop()

/** A scale that shows pounds where this screen shows kilograms, or the other way about. */
const other = computed(() => {
  const shown = { g: 'kg', kg: 'kg', lb: 'lb', oz: 'lb' }[props.reading.unit]
  return shown && shown !== unit.value ? say`; the scale itself shows ${props.reading.unit}` : ''
})
const state = computed(() => {
  const r = props.reading
  if (props.held && !props.typed) return say('Weight held; take it off the scale')
  if (props.typed)
    return props.typedFault || say`typed: ${props.typedG === undefined ? '…' : `${bare(props.typedG)} ${unit.value}`}`
  if (r.status === 'disconnected') return say('No scale. Type the weight and press Enter.')
  if (r.status === 'over') return say('Over the scale’s range. Take some off.')
  if (r.status === 'under') return say('Below zero. Zero or tare the scale.')
  if (r.status === 'wrong_unit') return say('The scale shows a unit that is not known. Set it to kg, g, lb or oz.')
  if (r.message) return say('Scale signal not readable. Wait, or type the weight.')
  return `${r.stable ? 'stable' : 'moving'}${other.value}`
})
const shown = computed(() =>
  props.typed
    ? props.typed
    : props.reading.status === 'disconnected' || props.reading.status === 'wrong_unit'
      ? '– – –'
      : bare(props.reading.net_g),
)
</script>

<template>
  <button
    type="button"
    class="plate"
    :class="{ ready: canBook, flash, doubted: doubt }"
    data-test="plate"
    @click="emit('book')"
  >
    <span class="top"
      ><span
        class="state"
        :class="{
          moving: !reading.stable && !typed,
          bad: typedFault || reading.status === 'over' || reading.status === 'wrong_unit',
        }"
        >{{ state }}</span
      ><span v-if="reading.tare_g && !typed" class="state"
        >{{ tub ? `${tub}, ` : '' }}tare {{ bare(reading.tare_g) }}</span
      ></span
    >
    <span class="weight"
      ><span class="digits" data-test="live">{{ shown }}</span
      ><span class="unit">{{ typed ? '' : unit }}</span></span
    >
    <span class="what"
      ><strong>{{ what }}</strong
      ><span>{{ hint }}</span></span
    >
    <span v-if="doubt" class="quiet" data-test="weight-doubt">{{ doubt }}</span>
    <span v-if="quiet" class="quiet">{{ quiet }}</span>
  </button>
</template>

<style scoped>
.plate {
  display: flex;
  flex-direction: column;
  gap: 2px;
  width: 100%;
  text-align: left;
  background: var(--surface);
  border: 2px solid var(--line);
  border-radius: 2px;
  padding: 12px 18px 14px;
  cursor: pointer;
  min-height: 208px;
}
.plate.ready {
  border-color: var(--act);
  border-width: 4px;
  padding: 10px 16px 12px;
}
.plate.doubted {
  border-style: dashed;
}
.plate.doubted .digits {
  color: var(--act);
}
.plate.flash {
  background: var(--act);
  color: var(--on-act);
}
.plate.flash .state,
.plate.flash .unit {
  color: var(--on-act);
}
.top {
  display: flex;
  justify-content: space-between;
}
.state {
  font-size: 15px;
  font-weight: 600;
  color: var(--ink-2);
}
.state.moving {
  font-style: italic;
}
.state.bad {
  color: var(--act);
}
.weight {
  display: flex;
  align-items: baseline;
  justify-content: flex-end;
  gap: 10px;
}
.digits {
  font-size: 96px;
  line-height: 1;
  font-weight: 700;
  font-stretch: 84%;
  font-variant-numeric: tabular-nums;
  letter-spacing: -0.01em;
}
.unit {
  font-size: 32px;
  color: var(--ink-2);
  min-width: 44px;
}
.what {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: baseline;
  gap: 2px 12px;
  border-top: 1px solid var(--hairline);
  padding-top: 8px;
  font-size: 18px;
}
.what strong {
  font-size: 48px;
  font-stretch: 78%;
  line-height: 1;
}
.quiet {
  color: var(--act);
  font-weight: 600;
  font-size: 15px;
}
@media (max-width: 1100px) {
  .digits {
    font-size: 88px;
  }
}
</style>
