<script setup lang="ts">
// Tubs by name: a touch takes one's weight off what the scale shows; what lies on the scale can be remembered as
// another.
import { computed, ref, watch } from 'vue'
import PvButton from 'primevue/button'
import { useShop } from '../shell/shop'
import { tubs, type Tub } from './useTub'
import { say } from '../words/say'

const props = defineProps<{ used?: Tub; onScale: number; stable: boolean }>()
const emit = defineEmits<{ use: [Tub | undefined]; zero: []; check: []; back: [] }>()
const { mass } = useShop()
const name = ref('')
const may = computed(() => props.stable && props.onScale > 0)
/** Asked for while the scale still moves: it is done as soon as it rests. */
const wanted = ref(false)
watch(may, (m) => m && wanted.value && remember())
function remember() {
  const called = name.value.trim()
  wanted.value = !!called && !may.value
  if (!called || !may.value) return
  tubs.value = [...tubs.value.filter((t) => t.name !== called), { name: called, g: props.onScale }]
  name.value = ''
}
</script>

<template>
  <section class="tubs" aria-label="Tubs" data-test="tubs" @keydown.escape="emit('back')">
    <div class="spread">
      <h2>Which tub is on the scale?</h2>
      <PvButton text label="Back" @click="emit('back')" />
    </div>
    <div class="row">
      <button type="button" class="tub" :class="{ on: !used }" @click="emit('use', undefined)">none</button>
      <span v-for="t in tubs" :key="t.name" class="one"
        ><button
          type="button"
          class="tub"
          :class="{ on: used?.name === t.name }"
          :data-tub="t.name"
          @click="emit('use', t)"
        >
          <strong>{{ t.name }}</strong> {{ mass(t.g) }}</button
        ><button
          type="button"
          class="drop"
          :aria-label="say`Forget ${t.name}`"
          @click="tubs = tubs.filter((x) => x.name !== t.name)"
        >
          ×
        </button></span
      >
    </div>
    <form class="row" novalidate @submit.prevent="remember" @keydown.stop>
      <input
        v-model="name"
        maxlength="30"
        :placeholder="may ? say('such as trim tub, grey tray') : say('lay the empty tub on the scale')"
        aria-label="Name of the tub that lies on the scale"
      /><PvButton
        type="submit"
        severity="secondary"
        :label="may ? say`Remember ${mass(onScale)}` : say('Remember it')"
        :disabled="!name.trim()"
      />
    </form>
    <p v-if="wanted" role="status">{{ name }} is remembered as soon as the scale rests with it.</p>
    <div class="row">
      <button type="button" class="tub" @click="emit('zero')">Zero</button>
      <span class="small">when the empty scale does not show nothing</span>
      <button type="button" class="tub" @click="emit('check')">Check with a test weight</button>
    </div>
    <p class="small">This screen remembers them. Their weight is booked as tare.</p>
  </section>
</template>

<style scoped>
.tubs {
  border: 2px solid var(--ink);
  background: var(--surface);
  padding: 8px 12px 12px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.tub {
  min-height: 56px;
  border: 1px solid var(--ink);
  border-radius: 2px;
  background: none;
  padding: 0 14px;
  cursor: pointer;
}
.tub.on {
  background: var(--ink);
  color: var(--surface);
}
.one {
  display: inline-flex;
}
.drop {
  min-width: 44px;
  min-height: 56px;
  border: 1px solid var(--line);
  border-left: 0;
  background: none;
  cursor: pointer;
}
input {
  font: inherit;
  min-height: 56px;
  flex: 1;
  min-width: 200px;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 10px;
  background: var(--surface);
  color: var(--ink);
}
</style>
