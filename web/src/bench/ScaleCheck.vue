<script setup lang="ts">
// A test weight on the scale: what it is, what the scale shows, and whether the scale may go on weighing.
import { computed, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import { data, POST, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { testWeight } from '../shell/preferences'
import { useShop } from '../shell/shop'
import type { Reading } from './useScale'
import { say } from '../words/say'

const props = defineProps<{ bench: string; reading: Reading }>()
const emit = defineEmits<{ back: [] }>()
const { bare, gramsOf, unit } = useShop()
const queries = useQueryClient()
const { busy, problem, attempt } = useAttempt()
const weight = ref(bare(Number(testWeight.value) || 1000))
const typed = ref('')
const checked = ref<S['ScaleCheck']>()
const live = computed(() => props.reading.status === 'ok')
const ready = computed(() => live.value && props.reading.stable && !props.reading.tare_g)
const shown = computed(() => {
  if (!live.value) return say('No scale is connected: type what it shows.')
  if (props.reading.tare_g) return say('Take the tare off first.')
  return props.reading.stable ? say('steady') : say('wait until it rests')
})
const grams = (g: number) => `${g.toLocaleString('en', { maximumFractionDigits: 1 })} g`
const log = () =>
  attempt(async () => {
    const weight_g = gramsOf(weight.value)
    const byHand = typed.value.trim() !== ''
    checked.value = await data(
      POST('/benches/{bench_id}/checks', {
        params: { path: { bench_id: props.bench } },
        body: {
          weight_g,
          shown_g: byHand ? gramsOf(typed.value) : props.reading.gross_g,
          source: byHand ? 'typed' : 'scale',
        },
      }),
    )
    testWeight.value = String(weight_g)
    await queries.invalidateQueries({ queryKey: keyOf('shop') })
  })
</script>

<template>
  <section
    class="check reading"
    aria-label="Check the scale"
    data-test="scale-check"
    @keydown.escape="emit('back')"
    @keydown.stop
  >
    <div class="spread">
      <h2>Check the scale</h2>
      <PvButton text label="Back" @click="emit('back')" />
    </div>
    <p class="small">Empty pan, no tare, zero. Then the test weight in the middle of the pan.</p>
    <p class="shown" :class="{ off: !live }">
      <span class="digits">{{ live ? bare(reading.gross_g) : '– –' }}</span><span class="small">{{ shown }}</span>
    </p>
    <form class="row" novalidate @submit.prevent="log">
      <label
        >Test weight, {{ unit }}
        <input v-model="weight" inputmode="decimal" maxlength="8" data-test="test-weight" @input="problem = undefined"
      /></label>
      <label
        >or typed: what it shows, {{ unit }}
        <input v-model="typed" inputmode="decimal" maxlength="8" data-test="test-shown" @input="problem = undefined"
      /></label>
      <PvButton
        type="submit"
        label="Log it"
        data-test="log-check"
        :disabled="busy || (!ready && !typed.trim())"
        :loading="busy"
      />
    </form>
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <p v-if="checked" :class="checked.fits ? 'fits' : 'fault'" role="status" data-test="check-verdict">
      <template v-if="checked.fits"
        >It fits: off by {{ grams(checked.off_g) }}, {{ grams(checked.allowed_g) }} are allowed. Logged.</template
      >
      <template v-else
        >It is off by {{ grams(checked.off_g) }}; {{ grams(checked.allowed_g) }} are allowed. Logged. Level it, zero it
        and check again; if it stays so, sell nothing by its weights until it is adjusted by whom your local rules
        name.</template
      >
    </p>
  </section>
</template>

<style scoped src="./reading.css"></style>

<style scoped>
label {
  display: flex;
  flex-direction: column;
  font-size: 14px;
  flex: 1 1 150px;
}
input {
  font-size: 18px;
  min-width: 0;
}
.row {
  align-items: flex-end;
}
.fits {
  font-weight: 600;
}
</style>
