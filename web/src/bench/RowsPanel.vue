<script setup lang="ts">
// Every weighing that stands, the latest first: weigh one again, give it to another muscle, take it back, or open a
// muscle.
import { computed, ref } from 'vue'
import PvButton from 'primevue/button'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { shortName } from '../words/shown'
import { muscleOf } from './useInside'
import { say } from '../words/say'

const props = defineProps<{ board: S['Board'] }>()
const emit = defineEmits<{
  again: [string]
  undo: [string]
  move: [string, { part?: string; product?: string }]
  open: [string]
  back: []
}>()
const { mass } = useShop()
const moving = ref('')
const rows = computed(() => [...props.board.rows].reverse())
const isPiece = (r: S['BoardRow']) => r.kind === 'opened'
const nested = (r: S['BoardRow']) => props.board.rows.some((x) => x.parent === r.event_id)
const under = (r: S['BoardRow']) => props.board.rows.find((x) => x.event_id === r.parent && x.kind !== 'opened')
const targets = (r: S['BoardRow']) => {
  if (r.kind === 'portioned')
    return (props.board.fixed?.plan.products ?? []).map((p) => ({ id: p.id, name: p.name, as: { product: p.id } }))
  const ends = r.id.includes('/') ? (props.board.fixed?.words[muscleOf(r.id)]?.ends ?? []) : []
  if (ends.length) return ends.map((e) => ({ id: e.id, name: e.name, as: { part: e.id } }))
  if (under(r))
    return (props.board.fixed?.dressing ?? [])
      .filter((d) => (r.kind === 'trimmed') === ['trim', 'fat', 'bone'].includes(d.kind))
      .map((d) => ({ id: d.id, name: d.name, as: { part: d.id } }))
  const kinds = r.kind === 'seamed_off' ? ['muscle'] : r.kind === 'trimmed' ? ['trim', 'fat', 'bone'] : ['waste']
  return props.board.expected
    .filter((e) => kinds.includes(e.kind))
    .map((e) => ({ id: e.id, name: e.name, as: { part: e.id } }))
}
</script>

<template>
  <section class="rows" aria-label="What was weighed" data-test="rows-panel" @keydown.escape="emit('back')">
    <div class="spread">
      <h2>What was weighed</h2>
      <PvButton text label="Back" @click="emit('back')" />
    </div>
    <p v-if="!rows.length" class="small">Nothing yet.</p>
    <div v-for="r in rows" :key="r.event_id" class="line" :data-row="r.id || 'piece'">
      <span class="what"
        ><strong>{{ isPiece(r) ? say('The whole piece') : shortName(r.name) }}</strong> {{ mass(r.weight_g)
        }}<span class="small">
          {{ under(r) ? say`of ${shortName(under(r)!.name)}` : ''
          }}{{ r.minutes ? say` · ${r.minutes.toFixed(1)} min` : '' }}{{ r.weighed_again ? say(' · weighed again') : ''
          }}{{ r.moved ? say(' · moved') : '' }}{{ r.out_of_order ? say(' · out of order') : ''
          }}{{ r.shared ? say` · a share of what ${r.shared} pieces weighed` : ''
          }}{{ r.reason ? ` · ${r.reason}` : '' }}</span
        ></span
      >
      <span class="acts">
        <button type="button" @click="emit('again', r.event_id)">Weigh again</button>
        <button v-if="!isPiece(r)" type="button" @click="moving = moving === r.event_id ? '' : r.event_id">Move</button>
        <button
          v-if="r.kind === 'seamed_off' && !r.closed"
          type="button"
          :data-open="r.id"
          @click="emit('open', r.event_id)"
        >
          Open
        </button>
        <button v-if="!nested(r)" type="button" @click="emit('undo', r.event_id)">Undo</button>
      </span>
      <span v-if="moving === r.event_id" class="to"
        ><span class="label">It is of</span
        ><button
          v-for="t in targets(r).filter((x) => x.id !== r.id)"
          :key="t.id"
          type="button"
          :data-move="t.id"
          @click="emit('move', r.event_id, t.as)"
        >
          {{ shortName(t.name) }}
        </button></span
      >
    </div>
  </section>
</template>

<style scoped>
.rows {
  border: 2px solid var(--ink);
  background: var(--surface);
  padding: 8px 12px;
  max-height: 64vh;
  overflow-y: auto;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  border-top: 1px solid var(--hairline);
  padding: 6px 0;
}
.what {
  flex: 1 1 220px;
}
.acts,
.to {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
  align-items: center;
}
.to {
  flex-basis: 100%;
}
.acts button,
.to button {
  min-height: 56px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: none;
  padding: 0 10px;
  cursor: pointer;
  font-weight: 600;
}
</style>
