<script setup lang="ts">
// What was found when the bag was opened; a tick shows at once what to do, and what becomes of what it costs.
import Checkbox from 'primevue/checkbox'
import type { S } from '../../api/client'
import { percent } from '../../words/shown'
import { say } from '../../words/say'

defineProps<{ points: S['Inspect'][]; disabled?: boolean }>()
const found = defineModel<string[]>({ required: true })
const decided = defineModel<Record<string, string>>('decided', { required: true })
const words: Record<string, string> = {
  discard: say('into the bin'),
  mince: say('to the mince'),
  pare: say('off with the fat'),
}
const ways = (p: S['Inspect']) => [p.to!, ...p.may]
const is = (p: S['Inspect']) => decided.value[p.id] ?? p.to
</script>

<template>
  <fieldset :disabled="disabled">
    <legend class="label">Look, smell, feel: tick what you find</legend>
    <div v-for="p in points" :key="p.id" class="point">
      <Checkbox v-model="found" :input-id="`find-${p.id}`" :value="p.id" :disabled="disabled" />
      <div>
        <label :for="`find-${p.id}`"
          >{{ p.look }}<span v-if="found.includes(p.id)" class="do">{{ p.do }}</span></label
        >
        <p v-if="found.includes(p.id) && p.to" class="small">
          It costs about {{ percent(p.takes_pct ?? 0, 0) }} of what it touches,
          <template v-if="p.may.length"
            ><label v-for="w in ways(p)" :key="w" class="way" :class="{ on: is(p) === w }"
              ><input
                class="vh"
                type="radio"
                :name="`to-${p.id}`"
                :value="w"
                :checked="is(p) === w"
                @change="decided = { ...decided, [p.id]: w }"
              />{{ words[w] }}</label
            ></template
          >
          <template v-else>{{ words[p.to] }}.</template>
        </p>
      </div>
    </div>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  min-width: 0;
}
legend {
  padding: 0 0 4px;
}
.point {
  display: flex;
  gap: 10px;
  align-items: flex-start;
  padding: 5px 0;
  border-top: 1px solid var(--hairline);
  min-height: 36px;
}
label {
  cursor: pointer;
  font-size: 13px;
  padding-top: 2px;
}
.do {
  display: block;
  color: var(--act);
  font-weight: 600;
}
.way {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  padding: 0 12px;
  margin: 4px 0 4px 6px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  font-weight: 600;
}
.way.on {
  background: var(--ink);
  color: var(--surface);
  border-color: var(--ink);
}
.way:focus-within {
  outline: 3px solid var(--act);
  outline-offset: 1px;
}
</style>
