<script setup lang="ts">
// A picture that the page draws itself, kept as a file.
import { inkOf } from './ink'
import { pngOf, save, standalone } from './keep'

const props = defineProps<{ file: string; of: () => Element | null | undefined }>()
const drawn = () => {
  const el = props.of()
  return el instanceof SVGSVGElement ? el : undefined
}
function keepSVG() {
  const svg = drawn()
  if (svg) save(new Blob([standalone(svg)], { type: 'image/svg+xml' }), `${props.file}.svg`)
}
async function keepPNG() {
  const svg = drawn()
  if (!svg) return
  const { width, height } = svg.getBoundingClientRect()
  save(await pngOf(standalone(svg), width, height, inkOf(svg).ground), `${props.file}.png`)
}
</script>

<template>
  <div class="row no-print keep">
    <button type="button" @click="keepPNG">PNG</button><button type="button" @click="keepSVG">SVG</button>
  </div>
</template>

<style scoped>
.keep {
  gap: 4px;
}
button {
  min-height: 44px;
  min-width: 52px;
  border: 0;
  background: none;
  color: var(--ink-2);
  font-size: 13px;
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
}
</style>
