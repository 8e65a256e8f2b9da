<script setup lang="ts">
// A file that is chosen, or dropped: looks like a button, or among links like one of them. The same file can be chosen
// again. While it is on its way a bar says so.
import FetchBar from './FetchBar.vue'
import { ref } from 'vue'

withDefaults(
  defineProps<{ label: string; accept?: string; link?: boolean; disabled?: boolean; busy?: boolean; test?: string }>(),
  {
    accept: '.csv,.xlsx,text/csv',
    test: undefined,
  },
)
const emit = defineEmits<{ picked: [File] }>()
const over = ref(false)
function dropped(e: DragEvent) {
  over.value = false
  const file = e.dataTransfer?.files[0]
  if (file) emit('picked', file)
}
function changed(e: Event) {
  const input = e.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  emit('picked', file)
  input.value = ''
}
</script>

<template>
  <label
    class="pick"
    :class="{ link, over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="dropped"
    ><input
      class="vh"
      type="file"
      :accept="accept"
      :disabled="disabled || busy"
      :data-test="test"
      @change="changed" /><span>{{ label }}</span
    ><FetchBar v-if="busy" label="The file is on its way"
  /></label>
</template>

<style scoped>
.pick {
  cursor: pointer;
}
.pick span {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  padding: 0 16px;
  border: 1px solid var(--ink);
  border-radius: 2px;
  background: var(--surface);
  font-weight: 650;
}
.over span {
  border-style: dashed;
  background: var(--act-wash);
}
.link span {
  padding: 0;
  border: 0;
  background: none;
  color: var(--act);
  font-weight: inherit;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.pick:focus-within span {
  outline: 3px solid var(--act);
  outline-offset: 2px;
}
</style>
