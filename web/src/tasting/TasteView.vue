<script setup lang="ts">
// An eater's page on a phone: one sample at a time, four open lines, no account, no network needed once it is open.
import { computed, ref } from 'vue'
import PvButton from 'primevue/button'
import StateNote from '../components/StateNote.vue'
import { attributes } from './attributes'
import OpenLine from './OpenLine.vue'
import { useTaste } from './useTaste'
import { counted, say } from '../words/say'

const props = defineProps<{ link: string }>()
const { place, marks, waiting, fault, away, mark, load } = useTaste(props.link)
const at = ref(0)
const sample = computed(() => place.value?.samples[at.value])
const done = (code: string) => attributes.every((a) => typeof marks[code]?.[a.id] === 'number')
const all = computed(() => place.value?.samples.every((s) => done(s.code)) ?? false)
function go(to: number) {
  at.value = to
  window.scrollTo(0, 0)
}
</script>

<template>
  <section class="taste">
    <StateNote v-if="!place" :error="fault" :loading="!fault" what="your page" @retry="load()" />
    <template v-else>
      <header>
        <strong>{{ place.tasting }}</strong><span>Eater {{ place.assessor }}</span>
      </header>
      <nav class="codes" aria-label="Samples in your order">
        <button
          v-for="(s, i) in place.samples"
          :key="s.code"
          type="button"
          class="code"
          :class="{ on: i === at, done: done(s.code) }"
          :aria-current="i === at ? 'step' : undefined"
          @click="go(i)"
        >
          {{ s.code }}
        </button>
      </nav>
      <p v-if="!place.open" class="fault">This tasting is over. Thank you.</p>
      <div v-if="sample" :key="sample.code" class="lines" :data-code="sample.code">
        <h1>{{ sample.code }}</h1>
        <OpenLine
          v-for="a in attributes"
          :key="a.id"
          :name="a.name"
          :low="a.low"
          :high="a.high"
          :disabled="!place.open"
          :model-value="marks[sample.code]?.[a.id] ?? null"
          :data-line="a.id"
          @update:model-value="(v) => mark(sample!.code, a.id, v ?? null)"
        />
      </div>
      <p class="small" role="status" data-test="taste-state">
        {{
          fault
            ? fault.message
            : away || waiting
              ? say`${counted(waiting, 'sample')} kept on this phone; sent when there is a network.`
              : all
                ? say('All marked and sent. Thank you.')
                : say('Touch each line anywhere. Water and bread between two samples.')
        }}
      </p>
      <div class="row">
        <PvButton v-if="at > 0" severity="secondary" label="Back" @click="go(at - 1)" /><PvButton
          v-if="at + 1 < place.samples.length"
          class="next"
          label="Next sample"
          data-test="next-sample"
          @click="go(at + 1)"
        />
      </div>
    </template>
  </section>
</template>

<style scoped>
.taste {
  max-width: 520px;
  margin: 0 auto;
  padding: 14px 18px 40px;
  display: flex;
  flex-direction: column;
  gap: 14px;
}
header {
  display: flex;
  justify-content: space-between;
  gap: 12px;
}
.codes {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.code {
  min-width: 56px;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  font-weight: 650;
}
.code.done {
  background: var(--ghost);
}
.code.on {
  background: var(--ink);
  color: var(--surface);
}
h1 {
  font-size: 40px;
}
.lines {
  display: flex;
  flex-direction: column;
  gap: 18px;
}
.next {
  margin-left: auto;
}
</style>
