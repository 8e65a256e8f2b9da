<script setup lang="ts">
// Closing a piece: what is unaccounted for, the reason where it is much, the minutes, and what is still missing.
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import PvButton from 'primevue/button'
import type { S } from '../api/client'
import type { Problem } from '../api/problem'
import { useShop } from '../shell/shop'
import { percent, shortName } from '../words/shown'
import { say } from '../words/say'

const props = defineProps<{ board: S['Board']; minutes: number; problem?: Problem }>()
const emit = defineEmits<{ close: [{ reason: string; minutes?: number }]; back: [] }>()
const { mass } = useShop()
const reasons = [
  say('drip in the bag'),
  say('drip on the board'),
  say('dropped and binned, not weighed'),
  say('left on the bone or skin, not weighed'),
]
const reason = ref('')
const measured = Math.round(props.minutes * 10) / 10
const given = ref(String(measured))
const minutesFault = ref('')
const focus = useTemplateRef<{ $el: HTMLElement }>('focus')

const b = computed(() => props.board.balance)
const missing = computed(() => props.board.expected.filter((e) => e.times < e.want).map((e) => shortName(e.name)))
const sentence = computed(() => {
  const r = mass(Math.abs(b.value.residual_g))
  const inner = b.value.inner_loss_g ? say` and ${mass(b.value.inner_loss_g)} was lost inside what was opened` : ''
  const pct = percent(b.value.loss_pct ?? 0)
  if (b.value.verdict === 'gain')
    return say`${r} more came out than went in. Something was weighed twice, or a tare was forgotten.`
  if (b.value.verdict === 'loss_high')
    return say`${r} is unaccounted for${inner}, ${pct}: more than the limit of ${percent(b.value.loss_limit_pct ?? 0)}.`
  return say`It balances: ${mass(b.value.loss_g ?? 0)} of cutting and drip loss, ${pct}.`
})
const canClose = computed(
  () => b.value.verdict === 'balanced' || (b.value.verdict === 'loss_high' && reason.value.trim() !== ''),
)

onMounted(
  () =>
    void nextTick(() =>
      (b.value.verdict === 'loss_high' ? document.getElementById('close-reason') : focus.value?.$el)?.focus(),
    ),
)

function close() {
  if (!canClose.value) return
  const n = Number(given.value.replace(',', '.'))
  if (!Number.isFinite(n) || n < 0 || given.value.trim() === '') {
    minutesFault.value = say('Enter minutes, such as 17.5')
    return
  }
  emit('close', { reason: reason.value.trim(), ...(n !== measured && { minutes: n }) })
}
</script>

<template>
  <form
    class="finish"
    aria-label="Finish this piece"
    data-test="finish-panel"
    @submit.prevent="close"
    @keydown.escape="emit('back')"
    @keydown.stop
  >
    <h2>{{ sentence }}</h2>
    <p v-if="b.verdict === 'gain'" class="fault">
      It cannot be finished like this. Go back, undo or weigh again what is wrong.
    </p>
    <p v-if="missing.length && b.verdict !== 'gain'" class="small">Not weighed: {{ missing.join(', ') }}.</p>
    <template v-if="b.verdict === 'loss_high'">
      <label class="label" for="close-reason">Why? Book what is missing, or say what became of it</label>
      <input id="close-reason" v-model="reason" maxlength="200" list="close-reasons" autocomplete="off" />
      <div class="row">
        <button v-for="r in reasons" :key="r" type="button" class="quick" @click="reason = r">{{ r }}</button>
      </div>
    </template>
    <label class="label" for="close-minutes">Bench minutes, pauses left out (measured {{ measured }})</label>
    <input
      id="close-minutes"
      v-model="given"
      class="short"
      inputmode="decimal"
      autocomplete="off"
      @input="minutesFault = ''"
    />
    <p v-if="minutesFault || problem" class="fault" role="alert">{{ minutesFault || problem?.message }}</p>
    <div class="row">
      <PvButton
        v-if="b.verdict !== 'gain'"
        ref="focus"
        type="submit"
        label="Finish the piece"
        :disabled="!canClose"
        data-test="close"
      />
      <PvButton
        :ref="b.verdict === 'gain' ? 'focus' : undefined"
        type="button"
        severity="secondary"
        label="Back to the board"
        @click="emit('back')"
      />
    </div>
  </form>
</template>

<style scoped>
.finish {
  display: flex;
  flex-direction: column;
  gap: 10px;
  border: 4px solid var(--act);
  background: var(--surface);
  padding: 16px;
}
input {
  font: inherit;
  font-size: 18px;
  height: 48px;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 10px;
  background: var(--surface);
  color: var(--ink);
}
.short {
  width: 120px;
}
.quick {
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: none;
  padding: 0 12px;
  cursor: pointer;
}
</style>
