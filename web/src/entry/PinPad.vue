<script setup lang="ts">
// Four digits by touch or key; with the last one they are sent.
import { onMounted, onUnmounted, ref } from 'vue'
import { say } from '../words/say'

const props = defineProps<{ name: string; busy: boolean; fault?: string }>()
const emit = defineEmits<{ pin: [string]; back: [] }>()
const length = 4
const typed = ref('')

function digit(d: string) {
  if (props.busy || typed.value.length >= length) return
  typed.value += d
  if (typed.value.length < length) return
  emit('pin', typed.value)
  typed.value = ''
}
const rub = () => (typed.value = typed.value.slice(0, -1))
function key(e: KeyboardEvent) {
  if (e.ctrlKey || e.metaKey || e.altKey) return
  if (/^\d$/.test(e.key)) digit(e.key)
  else if (e.key === 'Backspace') rub()
  else if (e.key === 'Escape') emit('back')
  else return
  e.preventDefault()
}
onMounted(() => window.addEventListener('keydown', key))
onUnmounted(() => window.removeEventListener('keydown', key))
</script>

<template>
  <div class="pad">
    <p class="spread">
      <strong class="name">{{ name }}</strong><button type="button" class="other" @click="emit('back')">
        Somebody else
      </button>
    </p>
    <p class="dots" role="status" :aria-label="say`${typed.length} of ${length} digits`">
      <span v-for="n in length" :key="n" class="dot" :class="{ on: n <= typed.length }" />
    </p>
    <p class="fault" role="alert">{{ fault }}</p>
    <div class="keys">
      <button
        v-for="d in ['1', '2', '3', '4', '5', '6', '7', '8', '9']"
        :key="d"
        type="button"
        class="key"
        :disabled="busy"
        @click="digit(d)"
      >
        {{ d }}
      </button>
      <span />
      <button type="button" class="key" :disabled="busy" @click="digit('0')">0</button>
      <button type="button" class="key word" :disabled="busy" @click="rub">Rub out</button>
    </div>
  </div>
</template>

<style scoped>
.pad {
  max-width: 400px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.name {
  font-size: 24px;
}
.other {
  border: 0;
  background: none;
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
  min-height: 44px;
  padding: 0 4px;
}
.dots {
  display: flex;
  gap: 14px;
  padding: 8px 0;
}
.dot {
  width: 22px;
  height: 22px;
  border: 2px solid var(--ink);
  border-radius: 2px;
}
.dot.on {
  background: var(--ink);
}
.fault {
  min-height: 20px;
}
.keys {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 10px;
}
.key {
  height: 76px;
  font-size: 30px;
  font-weight: 650;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  cursor: pointer;
}
.key:active {
  background: var(--act-wash);
}
.key.word {
  font-size: 15px;
  font-stretch: 84%;
}
</style>
