<script setup lang="ts">
// A picture, kept as a file: an SVG of the page, or what a chart gives of itself.
import { inkOf } from './ink'
import { save } from '../api/save'
import { pngOf, standalone } from './keep'

export interface Drawn {
  svg: string
  width: number
  height: number
  ground: string
}
const props = defineProps<{
  file: string
  /** The SVG of the page. */
  of?: () => Element | null | undefined
  drawn?: () => Drawn | undefined
}>()
function picture(): Drawn | undefined {
  const el = props.of?.()
  if (!(el instanceof SVGSVGElement)) return props.drawn?.()
  const { width, height } = el.getBoundingClientRect()
  return { svg: standalone(el), width, height, ground: inkOf(el).ground }
}
function keepSVG() {
  const p = picture()
  if (p) save(new Blob([p.svg], { type: 'image/svg+xml' }), `${props.file}.svg`)
}
async function keepPNG() {
  const p = picture()
  if (p) save(await pngOf(p.svg, p.width, p.height, p.ground), `${props.file}.png`)
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
