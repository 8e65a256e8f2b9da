<script setup lang="ts">
// An open line: nothing on it until it is touched, no ticks, no figure that would suggest one.
import { useTemplateRef } from 'vue'
import { say } from '../words/say'

const props = defineProps<{ name: string; low: string; high: string; disabled: boolean }>()
const mark = defineModel<number | null>()
const track = useTemplateRef<HTMLElement>('track')
function put(e: PointerEvent) {
  const r = track.value?.getBoundingClientRect()
  if (!r || props.disabled) return
  mark.value = Math.round(Math.min(100, Math.max(0, ((e.clientX - r.left) / r.width) * 100)))
}
function down(e: PointerEvent) {
  track.value?.setPointerCapture(e.pointerId)
  put(e)
}
function key(e: KeyboardEvent) {
  const by = { ArrowLeft: -2, ArrowDown: -2, ArrowRight: 2, ArrowUp: 2, PageUp: 10, PageDown: -10 }[e.key]
  if (props.disabled || (by === undefined && e.key !== 'Home' && e.key !== 'End')) return
  e.preventDefault()
  mark.value = e.key === 'Home' ? 0 : e.key === 'End' ? 100 : Math.min(100, Math.max(0, (mark.value ?? 50) + by!))
}
</script>

<template>
  <div class="line">
    <span class="ask">{{ name }}</span>
    <div
      ref="track"
      class="track"
      role="slider"
      :tabindex="disabled ? -1 : 0"
      :aria-label="say`${name} From ${low} to ${high}`"
      aria-valuemin="0"
      aria-valuemax="100"
      :aria-valuenow="mark ?? undefined"
      :aria-valuetext="mark === null || mark === undefined ? say('not marked') : say`marked at ${mark} of 100`"
      :aria-disabled="disabled"
      @pointerdown.prevent="down"
      @pointermove="$event.buttons && put($event)"
      @keydown="key"
    >
      <span class="rule" /><span
        v-if="mark !== null && mark !== undefined"
        class="cross"
        :style="{ left: `${mark}%` }"
      />
    </div>
    <span class="ends small"
      ><span>{{ low }}</span
      ><span>{{ high }}</span></span
    >
  </div>
</template>

<style scoped>
.line {
  display: flex;
  flex-direction: column;
}
.ask {
  font-weight: 650;
  font-size: 18px;
}
.track {
  position: relative;
  height: 56px;
  cursor: pointer;
  touch-action: none;
}
.rule {
  position: absolute;
  left: 0;
  right: 0;
  top: 27px;
  height: 2px;
  background: var(--ink);
}
.rule::before,
.rule::after {
  content: '';
  position: absolute;
  top: -7px;
  width: 2px;
  height: 16px;
  background: var(--ink);
}
.rule::after {
  right: 0;
}
.cross {
  position: absolute;
  top: 8px;
  width: 4px;
  height: 40px;
  margin-left: -2px;
  background: var(--act);
}
.ends {
  display: flex;
  justify-content: space-between;
}
</style>
