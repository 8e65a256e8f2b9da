<script setup lang="ts">
// How warm the meat is: what the probe shows, or what is typed, noted on the piece or on the muscle that is open.
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import PvButton from 'primevue/button'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { useProbe } from './useProbe'
import { say } from '../words/say'

const props = defineProps<{ bench: string; of: string; temps: S['TakenTemp'][] }>()
const emit = defineEmits<{ take: [{ temp_c: number; source: 'probe' | 'typed' }]; back: [] }>()
const { temperature, celsius, degrees } = useShop()
const { reading, message, put } = useProbe(props.bench)
const typed = ref('')
const stand = ref('')
const fault = ref('')
const field = useTemplateRef<HTMLInputElement>('field')
onMounted(() => void nextTick(() => field.value?.focus()))

const live = computed(() => reading.value.status === 'ok')
const state = computed(() => {
  if (!live.value)
    return say`No thermometer${reading.value.message ? ` (${reading.value.message})` : ''}. Type what yours shows.`
  if (reading.value.message) return say('Thermometer signal not readable. Wait, or type what it shows.')
  return reading.value.steady ? 'steady' : say('still changing')
})
const number = (s: string) => Number(s.replace(',', '.').replace('\u2212', '-'))
function take() {
  fault.value = ''
  if (typed.value.trim()) {
    const c = celsius(number(typed.value))
    if (!Number.isFinite(c) || c < -40 || c > 60)
      fault.value = say`A temperature of meat at a bench, such as ${temperature(4)}`
    else emit('take', { temp_c: Math.round(c * 10) / 10, source: 'typed' })
  } else if (live.value && reading.value.steady && !reading.value.message)
    emit('take', { temp_c: reading.value.c, source: 'probe' })
  else
    fault.value = live.value
      ? say('It still changes. Wait until it is steady, or type it.')
      : say('Type what the thermometer shows.')
}
function lay() {
  const c = number(stand.value)
  if (stand.value.trim() && Number.isFinite(c)) void put(c)
}
</script>

<template>
  <section
    class="temp reading"
    aria-label="Temperature"
    data-test="temp-panel"
    @keydown.escape="emit('back')"
    @keydown.stop
  >
    <div class="spread">
      <h2>How warm is {{ of }}?</h2>
      <PvButton text label="Back" @click="emit('back')" />
    </div>
    <p class="shown" :class="{ off: !live }">
      <span class="digits" data-test="degrees">{{ live ? temperature(reading.c) : '– –' }}</span><span class="small">{{
        state
      }}</span>
    </p>
    <form class="row" novalidate @submit.prevent="take">
      <input
        ref="field"
        v-model="typed"
        inputmode="decimal"
        maxlength="8"
        :placeholder="say`or type it, ${degrees}`"
        :aria-label="say`Temperature in ${degrees}`"
        @input="fault = ''"
      />
      <PvButton type="submit" label="Note it" data-test="take-temp" />
    </form>
    <form
      v-if="reading.simulated"
      class="row stand"
      aria-label="Simulated thermometer"
      novalidate
      @submit.prevent="lay"
    >
      <span class="label">simulated, in meat of</span
      ><input
        v-model="stand"
        inputmode="decimal"
        maxlength="6"
        placeholder="°C"
        aria-label="What the simulated thermometer is put into, in °C"
        data-test="probe-in"
      /><PvButton type="submit" severity="secondary" label="Put it in" />
    </form>
    <p v-if="fault || message" class="fault" role="alert">{{ fault || message }}</p>
    <ul v-if="temps.length">
      <li v-for="t in temps" :key="t.event_id">
        <strong>{{ temperature(t.c) }}</strong> {{ t.of }},
        {{ t.source === 'probe' ? say('by the probe') : say('typed') }}.
        <span v-if="t.caution" class="fault">{{ t.caution }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped src="./reading.css"></style>

<style scoped>
input {
  flex: 1;
  min-width: 140px;
}
.stand {
  border: 1px dashed var(--line);
  padding: 5px 6px;
}
.stand input {
  min-height: 44px;
  flex: 0 1 90px;
  min-width: 70px;
}
ul {
  margin: 0;
  padding-left: 20px;
  font-size: 15px;
}
</style>
