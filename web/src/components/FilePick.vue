<script setup lang="ts">
// A file that is chosen: looks like a button, or among links like one of them. The same file can be chosen again.
withDefaults(defineProps<{ label: string; accept?: string; link?: boolean; disabled?: boolean; test?: string }>(), {
  accept: '.csv,.xlsx,text/csv',
  test: undefined,
})
const emit = defineEmits<{ picked: [File] }>()
function changed(e: Event) {
  const input = e.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  emit('picked', file)
  input.value = ''
}
</script>

<template>
  <label class="pick" :class="{ link }"
    ><input class="vh" type="file" :accept="accept" :disabled="disabled" :data-test="test" @change="changed" /><span>{{
      label
    }}</span></label
  >
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
