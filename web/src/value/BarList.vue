<script setup lang="ts">
// Bars on both sides of a line: what adds goes right in ox-blood, what takes away goes left, hatched. Read by name and
// figure as well.
import { computed } from 'vue'

export interface Bar {
  name: string
  value: number
  text: string
  note?: string
}
const props = defineProps<{ bars: Bar[]; title: string }>()
const range = computed(() => {
  const low = Math.min(0, ...props.bars.map((b) => b.value))
  const high = Math.max(0, ...props.bars.map((b) => b.value))
  return { low, span: high - low || 1 }
})
const zero = computed(() => (-range.value.low / range.value.span) * 100)
const left = (v: number) => (v < 0 ? zero.value - (-v / range.value.span) * 100 : zero.value)
const wide = (v: number) => Math.max(0.4, (Math.abs(v) / range.value.span) * 100)
</script>

<template>
  <figure class="bars">
    <figcaption class="label">{{ title }}</figcaption>
    <ul>
      <li v-for="b in bars" :key="b.name">
        <span class="name" :title="b.name">{{ b.name }}</span><span class="track" aria-hidden="true"
          ><i class="zero" :style="{ left: `${zero}%` }" /><i
            class="bar"
            :class="{ down: b.value < 0 }"
            :style="{ left: `${left(b.value)}%`, width: `${wide(b.value)}%` }" /></span
        ><strong class="n">{{ b.text }}</strong
        ><span v-if="b.note" class="small note">{{ b.note }}</span>
      </li>
    </ul>
  </figure>
</template>

<style scoped>
.bars {
  margin: 0;
}
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(90px, 34%) 1fr 84px;
  gap: 4px 10px;
  align-items: center;
  min-height: 26px;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-stretch: 88%;
}
.track {
  position: relative;
  height: 16px;
}
.zero {
  position: absolute;
  top: -5px;
  bottom: -5px;
  width: 1px;
  background: var(--ink);
}
.bar {
  position: absolute;
  top: 0;
  bottom: 0;
  background: var(--act);
}
.bar.down {
  background: repeating-linear-gradient(45deg, var(--surface) 0 4px, var(--ink) 4px 5.6px);
  border: 1px solid var(--ink);
}
.n {
  text-align: right;
  font-variant-numeric: tabular-nums;
  font-stretch: 86%;
  white-space: nowrap;
}
.note {
  grid-column: 2 / -1;
  margin-top: -4px;
}
</style>
