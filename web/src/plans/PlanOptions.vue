<script setup lang="ts">
// What can be chosen within a plan: one touch for each matter on which cutters disagree, and how much fat stays on.
import { computed } from 'vue'
import InputText from 'primevue/inputtext'
import type { S } from '../api/client'
import { say } from '../words/say'

defineProps<{ id: string; plan: S['PlanDetail']; fault?: (option: string) => string; disabled?: boolean }>()
const chosen = defineModel<Record<string, string>>({ required: true })
const emit = defineEmits<{ changed: [] }>()

function set(option: string, choice: string) {
  const next = { ...chosen.value }
  if (choice) next[option] = choice
  else delete next[option]
  chosen.value = next
  emit('changed')
}
const mm = computed(() => chosen.value.fat_cover ?? '')
const minutes = (n: number) => (n === 0 ? '' : say`${n > 0 ? '+' : '−'}${Math.abs(n)} min`)
const why = (o: S['PlanOption']) => o.choices.find((c) => c.id === chosen.value[o.id])?.why
</script>

<template>
  <div class="options">
    <fieldset v-for="o in plan.options" :key="o.id" :disabled="disabled">
      <legend class="label">{{ o.name }}</legend>
      <div class="choices">
        <label :class="{ on: !chosen[o.id] }"
          ><input class="vh" type="radio" :name="`${id}-${o.id}`" :checked="!chosen[o.id]" @change="set(o.id, '')" />{{
            o.as_is
          }}</label
        >
        <label v-for="c in o.choices" :key="c.id" :class="{ on: chosen[o.id] === c.id }"
          ><input
            class="vh"
            type="radio"
            :name="`${id}-${o.id}`"
            :value="c.id"
            :checked="chosen[o.id] === c.id"
            @change="set(o.id, c.id)"
          />{{ c.name }} <span class="min">{{ minutes(c.minutes) }}</span></label
        >
      </div>
      <p v-if="why(o)" class="small">{{ why(o) }}</p>
      <p v-if="fault?.(o.id)" class="fault" role="alert">{{ fault(o.id) }}</p>
    </fieldset>
    <fieldset v-if="plan.cover" :disabled="disabled">
      <legend class="label">Fat cover left on, in millimetres</legend>
      <div class="cover">
        <InputText
          :id="`${id}-cover`"
          :model-value="mm"
          inputmode="decimal"
          autocomplete="off"
          :placeholder="String(plan.cover.left_mm)"
          aria-label="Fat cover left on, in millimetres"
          @update:model-value="(v) => set('fat_cover', (v ?? '').trim().replace(',', '.'))"
        />
        <button
          v-for="n in [0, 3, 6, 12].filter((n) => n <= plan.cover!.natural_mm)"
          :key="n"
          type="button"
          :class="{ on: mm === String(n) }"
          @click="set('fat_cover', mm === String(n) ? '' : String(n))"
        >
          {{ n === 0 ? say('bare') : say`${n} mm` }}
        </button>
      </div>
      <p class="small">
        {{
          mm === '' ? say`This plan leaves about ${plan.cover.left_mm} mm` : say('Weight follows area and thickness')
        }}; the piece carries about {{ plan.cover.natural_mm }} mm.
      </p>
      <p v-if="fault?.('fat_cover')" class="fault" role="alert">{{ fault('fat_cover') }}</p>
    </fieldset>
    <p v-if="!plan.options.length && !plan.cover" class="small">Nothing to choose within this way.</p>
  </div>
</template>

<style scoped>
.options {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  min-width: 0;
}
legend {
  padding: 0 0 4px;
}
.choices,
.cover {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.choices label,
.cover button {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 44px;
  padding: 4px 12px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  cursor: pointer;
  font-weight: 600;
  font-size: 13px;
}
.choices label.on,
.cover button.on {
  background: var(--ink);
  color: var(--surface);
  border-color: var(--ink);
}
.choices label:focus-within {
  outline: 3px solid var(--act);
  outline-offset: 1px;
}
.min {
  font-weight: 500;
  font-stretch: 86%;
}
.cover input {
  width: 88px;
}
.small {
  padding-top: 4px;
}
</style>
