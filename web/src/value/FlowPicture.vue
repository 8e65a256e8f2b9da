<script setup lang="ts">
// Where a carcass goes: carcass, pieces, muscles, products, each band as wide as its weight or its value.
import { computed, ref } from 'vue'
import type { S } from '../api/client'
import { shortName } from '../shell/shop'

const props = defineProps<{
  flows: S['CarcassFlow'][]
  names: Record<string, string>
  show: (weight: number, value: number) => string
}>()
const by = ref<'weight_g' | 'value'>('weight_g')
const open = ref('')
const W = 1180
const H = 560
const gap = 3
const bar = 12

interface Node {
  id: string
  col: number
  size: number
  weight: number
  value: number
  y: number
  h: number
  out: number
  in: number
}
const column = (id: string) => (id === 'carcass' ? 0 : id.startsWith('piece/') ? 1 : id.startsWith('part/') ? 2 : 3)
const pieceOf = (id: string) => id.split('/')[1] ?? ''
/** Products that are a small part of the whole are drawn as one. */
const grouped = computed(() => {
  const total = props.flows.filter((f) => f.from === 'carcass').reduce((s, f) => s + f[by.value], 0) || 1
  const size = new Map<string, number>()
  for (const f of props.flows) if (f.to.startsWith('product/')) size.set(f.to, (size.get(f.to) ?? 0) + f[by.value])
  const small = (id: string) => id.startsWith('product/') && (size.get(id) ?? 0) / total < 0.012
  const out = new Map<string, S['CarcassFlow']>()
  for (const f of props.flows) {
    const to = small(f.to) ? 'product/rest' : f.to
    const had = out.get(`${f.from} ${to}`)
    out.set(`${f.from} ${to}`, {
      from: f.from,
      to,
      weight_g: (had?.weight_g ?? 0) + f.weight_g,
      value: (had?.value ?? 0) + f.value,
    })
  }
  return [...out.values()].filter((f) => f[by.value] > 0)
})
const nodes = computed(() => {
  const out = new Map<string, Node>()
  const node = (id: string) => {
    const n = out.get(id) ?? { id, col: column(id), size: 0, weight: 0, value: 0, y: 0, h: 0, out: 0, in: 0 }
    out.set(id, n)
    return n
  }
  for (const f of grouped.value) {
    if (f.from === 'carcass') {
      const n = node('carcass')
      n.size += f[by.value]
      n.weight += f.weight_g
      n.value += f.value
    }
    const n = node(f.to)
    n.size += f[by.value]
    n.weight += f.weight_g
    n.value += f.value
  }
  for (let col = 0; col < 4; col++) {
    const list = [...out.values()].filter((n) => n.col === col)
    if (col === 3) list.sort((a, b) => b.size - a.size)
    const total = list.reduce((s, n) => s + n.size, 0) || 1
    let y = 22
    const room = H - 30 - gap * (list.length - 1)
    for (const n of list) {
      n.h = Math.max(0.4, (n.size / total) * room)
      n.y = y
      y += n.h + gap
    }
  }
  return out
})
const x = (col: number) => 4 + col * ((W - 230) / 3)
const bands = computed(() => {
  const at = new Map<string, { out: number; in: number }>()
  const place = (id: string) => {
    const p = at.get(id) ?? { out: 0, in: 0 }
    at.set(id, p)
    return p
  }
  return grouped.value.map((f) => {
    const a = nodes.value.get(f.from)!
    const b = nodes.value.get(f.to)!
    const ha = (f[by.value] / (a.size || 1)) * a.h
    const hb = (f[by.value] / (b.size || 1)) * b.h
    const ya = a.y + place(a.id).out
    const yb = b.y + place(b.id).in
    place(a.id).out += ha
    place(b.id).in += hb
    const [x0, x1] = [x(a.col) + bar, x(b.col)]
    const m = (x0 + x1) / 2
    const of = f.from === 'carcass' ? pieceOf(f.to) : pieceOf(f.from)
    return {
      ...f,
      of,
      d: `M${x0} ${ya}C${m} ${ya} ${m} ${yb} ${x1} ${yb}V${yb + hb}C${m} ${yb + hb} ${m} ${ya + ha} ${x0} ${ya + ha}Z`,
    }
  })
})
const label = (id: string) => shortName(props.names[id] ?? id)
const drawn = computed(() =>
  [...nodes.value.values()].map((n) => ({
    ...n,
    x: x(n.col),
    text: n.h >= 11 ? label(n.id) : '',
    figure: n.h >= 24 || (n.col === 3 && n.h >= 11) ? props.show(n.weight, n.value) : '',
  })),
)
const heads = ['Carcass', 'Pieces', 'Muscles and parts', 'Products']
</script>

<template>
  <figure class="flow">
    <figcaption class="row no-print">
      <span class="label">Where it goes, wide by</span
      ><button
        v-for="w in [
          ['weight_g', 'weight'],
          ['value', 'value'],
        ] as const"
        :key="w[0]"
        type="button"
        class="way"
        :aria-pressed="by === w[0]"
        @click="by = w[0]"
      >
        {{ w[1] }}</button
      ><span class="small">Touch a piece to follow it.</span>
    </figcaption>
    <div v-wide class="scroll">
      <svg
        :viewBox="`0 0 ${W} ${H}`"
        role="img"
        aria-label="From the carcass over its pieces and muscles to the products; the tables below have the figures"
      >
        <text v-for="(t, i) in heads" :key="t" :x="x(i)" y="13" class="head">{{ t }}</text>
        <path
          v-for="b in bands"
          :key="b.from + b.to"
          :d="b.d"
          class="band"
          :class="{ on: open && b.of === open, off: open && b.of !== open }"
          @click="open = open === b.of ? '' : b.of"
        />
        <g
          v-for="n in drawn"
          :key="n.id"
          @click="n.col === 1 && (open = open === n.id.split('/')[1] ? '' : n.id.split('/')[1]!)"
        >
          <rect :x="n.x" :y="n.y" :width="bar" :height="n.h" class="node" />
          <text v-if="n.text" :x="n.x + bar + 5" :y="n.y + n.h / 2 + 4" class="name">
            {{ n.text }}
            <tspan v-if="n.figure" class="amount" dx="5">{{ n.figure }}</tspan>
          </text>
        </g>
      </svg>
    </div>
  </figure>
</template>

<style scoped>
.flow {
  margin: 18px 0;
}
.scroll {
  overflow-x: auto;
}
svg {
  width: 100%;
  min-width: 900px;
  height: auto;
  display: block;
}
.band {
  fill: var(--ink-2);
  fill-opacity: 0.16;
  cursor: pointer;
}
.band.on {
  fill: var(--act);
  fill-opacity: 0.5;
}
.band.off {
  fill-opacity: 0.06;
}
.node {
  fill: var(--ink);
}
.name {
  font-size: 12px;
  fill: var(--ink);
  font-stretch: 84%;
  paint-order: stroke;
  stroke: var(--ground);
  stroke-width: 3px;
}
.amount {
  fill: var(--ink-2);
  font-weight: 650;
}
.head {
  font-size: 13px;
  font-weight: 700;
  fill: var(--ink-2);
}
.way {
  min-height: 44px;
  padding: 0 14px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink-2);
  font: inherit;
  font-weight: 650;
  cursor: pointer;
}
.way[aria-pressed='true'] {
  background: var(--ink);
  color: var(--surface);
}
</style>
