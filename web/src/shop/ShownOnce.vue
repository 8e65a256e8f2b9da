<script setup lang="ts">
// A link, code or token that is shown once.
import { ref } from 'vue'
import PvButton from 'primevue/button'
import { say } from '../words/say'

const props = defineProps<{ title: string; secret: string; says: string; big?: boolean }>()
const emit = defineEmits<{ done: [] }>()
const copied = ref('')
async function copy() {
  try {
    await navigator.clipboard.writeText(props.secret)
    copied.value = say('Copied.')
  } catch {
    copied.value = say('This browser does not let it be copied; mark it and copy it by hand.')
  }
}
</script>

<template>
  <aside class="once" role="status">
    <h2>{{ title }}</h2>
    <p class="secret" :class="{ big }" data-test="secret">{{ secret }}</p>
    <p class="small">{{ says }}</p>
    <div class="row">
      <PvButton severity="secondary" label="Copy" @click="copy" /><PvButton
        text
        label="Done, hide it"
        @click="emit('done')"
      /><span class="small">{{ copied }}</span>
    </div>
  </aside>
</template>

<style scoped>
.once {
  border: 2px solid var(--ink);
  background: var(--surface);
  padding: 14px 18px;
  display: flex;
  flex-direction: column;
  gap: 8px;
  margin-bottom: 18px;
}
.secret {
  font-size: 18px;
  font-weight: 650;
  overflow-wrap: anywhere;
  user-select: all;
}
.secret.big {
  font-size: 40px;
  letter-spacing: 0.08em;
  line-height: 1;
  padding: 6px 0;
}
</style>
