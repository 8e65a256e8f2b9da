<script setup lang="ts">
// The keys of the bench as touch targets, each with its letter.
import { computed } from 'vue'

const props = defineProps<{ help: boolean; undoWhat?: string; paused: boolean; opened: boolean; together?: boolean }>()
const emit = defineEmits<{ act: [string] }>()
const keys = computed(() =>
  (
    [
      { key: 'n', name: 'Next', help: 'another seam, or another thing to weigh' },
      { key: 't', name: 'Trim', help: 'book the weight as trim' },
      { key: 'f', name: 'Fat', help: 'book the weight as fat' },
      { key: 'x', name: 'Discard', help: 'into the bin, with the reason' },
      { key: 'o', name: 'Open', help: 'dress and portion the muscle that was weighed last' },
      { key: 'l', name: 'List', help: 'what was weighed: weigh again, move, undo' },
      { key: 'd', name: 'Temp', help: 'how warm the meat is, by the probe or typed' },
      { key: 'u', name: 'Undo', help: props.undoWhat ?? 'nothing to undo', off: !props.undoWhat },
      { key: 'p', name: props.paused ? 'Resume' : 'Pause', help: 'stop or start the clock' },
      { key: 'e', name: 'Finish', help: 'close the balance', letter: '' },
    ] as { key: string; name: string; help: string; off?: boolean; letter?: string }[]
  ).filter((k) => !props.together || !['o', 'l'].includes(k.key)),
)
</script>

<template>
  <div class="keys">
    <div v-if="help" class="help" role="note">
      <p>
        <kbd>0</kbd>–<kbd>9</kbd> type a weight: without a point in grams, with one in kilograms; on a pound bench
        always pounds. <kbd>Enter</kbd> books what is next. <kbd>Esc</kbd> clears.
      </p>
      <p v-for="k in keys" :key="k.key">
        <kbd v-if="k.letter !== ''">{{ k.key.toUpperCase() }}</kbd> {{ k.name }}: {{ k.help }}
      </p>
      <p>
        <kbd>B</kbd> bone · <kbd>H</kbd> hold the weight that is shown · <kbd>M</kbd> sound on or off<template
          v-if="together"
        >
          · <kbd>A</kbd> all together or one by one</template
        >
        · <kbd>?</kbd> this help
      </p>
    </div>
    <button
      v-for="k in keys"
      :key="k.key"
      type="button"
      class="key"
      :disabled="k.off || !opened"
      :title="k.key === 'u' ? undoWhat : undefined"
      :data-act="k.key"
      @click="emit('act', k.key)"
    >
      <span class="letter">{{ k.letter ?? k.key.toUpperCase() }}</span>{{ k.name }}
    </button>
    <button type="button" class="key narrow" aria-label="Help" @click="emit('act', '?')">
      <span class="letter">?</span>
    </button>
  </div>
</template>

<style scoped>
.keys {
  display: contents;
}
.key {
  min-height: 56px;
  min-width: 60px;
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
.key.narrow {
  min-width: 56px;
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
.help {
  position: absolute;
  bottom: 72px;
  left: 0;
  background: var(--surface);
  border: 2px solid var(--ink);
  padding: 14px 18px;
  z-index: 5;
  display: grid;
  gap: 6px;
  max-width: 620px;
}
@media (max-width: 560px) {
  .key.narrow {
    display: none;
  }
}
</style>
