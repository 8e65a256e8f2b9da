<script setup lang="ts">
// The way the fibres run, and the knife across them.
import { computed } from 'vue'
import { say } from '../words/say'

const props = defineProps<{
  direction: 'one way' | 'two ways' | 'fan' | 'spiral'
  texture: 'fine' | 'medium' | 'coarse'
}>()
const gap = computed(() => ({ fine: 4, medium: 6, coarse: 9 })[props.texture])
const fibres = computed(() => {
  const out: string[] = []
  const g = gap.value
  for (let i = -100; i <= 200; i += g) {
    if (props.direction === 'one way') out.push(`M-10 ${i}L110 ${i - 20}`)
    else if (props.direction === 'two ways') out.push(`M50 ${i}L-10 ${i + 45}`, `M50 ${i}L110 ${i + 45}`)
    else if (props.direction === 'fan')
      out.push(`M-4 74L${60 + 80 * Math.cos((i / 100) * 1.5)} ${74 - 130 * Math.sin((i / 100) * 1.5)}`)
    else out.push(`M-10 ${i}C30 ${i - 34} 70 ${i + 34} 110 ${i}`)
  }
  return out
})
const cuts = computed(
  () =>
    ({
      'one way': ['M34 4L46 70', 'M58 2L70 68'],
      'two ways': ['M50 0V74', 'M8 16L40 64', 'M92 16L60 64'],
      fan: ['M30 26Q44 46 38 72', 'M56 10Q78 40 72 72'],
      spiral: ['M30 4V70', 'M64 4V70'],
    })[props.direction],
)
</script>

<template>
  <svg
    viewBox="0 0 100 74"
    class="grain"
    role="img"
    :aria-label="say`Fibres run ${direction}, ${texture}; the dashed lines are the knife, across them`"
  >
    <defs>
      <clipPath id="body"><rect x="1" y="1" width="98" height="72" rx="22" /></clipPath>
    </defs>
    <g clip-path="url(#body)">
      <rect width="100" height="74" class="flesh" />
      <path v-for="(f, i) in fibres" :key="i" :d="f" class="fibre" />
      <path v-for="c in cuts" :key="c" :d="c" class="knife" />
    </g>
    <rect x="1" y="1" width="98" height="72" rx="22" class="edge" />
  </svg>
</template>

<style scoped>
.grain {
  width: 120px;
  height: auto;
}
.flesh {
  fill: var(--act-wash);
}
.fibre {
  stroke: var(--ink-2);
  stroke-width: 0.7;
  fill: none;
  opacity: 0.75;
}
.knife {
  stroke: var(--act);
  stroke-width: 1.8;
  stroke-dasharray: 5 3;
  fill: none;
}
.edge {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}
</style>
