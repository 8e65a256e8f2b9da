<script setup lang="ts">
// The keys of the bench as touch targets, each with its letter, in groups; those of the work, or the few besides.
import { computed } from 'vue'
import type { BenchKey } from './keys'

const props = defineProps<{ keys: BenchKey[]; more?: boolean }>()
const emit = defineEmits<{ press: [string] }>()
const groups = computed(() => {
  const out = new Map<string, BenchKey[]>()
  for (const k of props.keys.filter((x) => (x.group === 'more') === props.more))
    out.set(k.group, [...(out.get(k.group) ?? []), k])
  return [...out.entries()]
})
</script>

<template>
  <div class="keysbar">
    <div v-for="[group, list] in groups" :key="group" class="group" :class="group">
      <button
        v-for="k in list"
        :key="k.key"
        type="button"
        class="key"
        :class="{ on: k.on, end: group === 'end' }"
        :disabled="k.off"
        :title="k.key === 'u' ? k.help : undefined"
        :data-act="k.key"
        @click="emit('press', k.key)"
      >
        <span v-if="!k.mute" class="letter">{{ k.key.toUpperCase() }}</span>{{ k.name }}
      </button>
      <slot v-if="group === 'weight'" />
    </div>
  </div>
</template>

<style scoped>
.keysbar {
  display: flex;
  gap: 6px 16px;
  flex-wrap: wrap;
}
.group {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
}
.more {
  margin-left: auto;
}
.key {
  min-height: 56px;
  min-width: 56px;
  border: 1px solid var(--ink);
  border-radius: 2px;
  background: var(--surface);
  cursor: pointer;
  font-weight: 650;
  font-stretch: 84%;
  padding: 0 7px;
  display: flex;
  align-items: center;
  gap: 5px;
  justify-content: center;
}
.key.on,
.key.on .letter {
  background: var(--ink);
  color: var(--surface);
}
.key.end {
  border-width: 2px;
}
.key:disabled {
  color: var(--ink-2);
  border-color: var(--hairline);
  cursor: default;
}
.letter {
  font-size: 13px;
  color: var(--act);
  font-weight: 750;
}
.key:disabled .letter {
  color: var(--ink-2);
}
/* A tablet holds them in one row. */
@media (max-width: 1100px) {
  .keysbar {
    column-gap: 8px;
  }
  .key {
    padding: 0 5px;
  }
}
/* In the hand there is no keyboard: no letters, and five to a row. */
@media (max-width: 480px) {
  .keysbar:has(.key:not(.more .key)) {
    display: grid;
    grid-template-columns: repeat(5, minmax(0, 1fr));
    gap: 4px;
  }
  .group:not(.more) {
    display: contents;
  }
  .more {
    flex-wrap: nowrap;
  }
  .key {
    padding: 0 4px;
    line-height: 1.1;
    font-stretch: 78%;
  }
  .letter {
    display: none;
  }
}
</style>
