<script setup lang="ts">
// One breakdown, gone through event by event on its seam map.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import SeamMap, { type MapMark } from '../components/SeamMap.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, type S } from '../api/client'
import { moment, shortName } from '../words/shown'
import { useShop } from '../shell/shop'
import { actionWords } from '../shop/auditWords'
import { useTitle } from '../shell/title'
import { say } from '../words/say'

const props = defineProps<{ breakdown: string }>()
const { bare, mass, temperature } = useShop()
const path = { breakdown_id: props.breakdown }
const {
  data: log,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: keyOf('events', props.breakdown),
  queryFn: () => data(GET('/breakdowns/{breakdown_id}/events', { params: { path } })),
})
const at = ref(0)
watch(
  log,
  (l) => {
    if (l) at.value = l.length
  },
  { immediate: true },
)
const { data: board, error: boardError } = useQuery({
  queryKey: computed(() => keyOf('board-then', props.breakdown, at.value)),
  enabled: () => !!log.value,
  placeholderData: (old) => old,
  staleTime: Infinity,
  queryFn: () => data(GET('/breakdowns/{breakdown_id}', { params: { path, query: { upto: at.value } } })),
})
const marks = computed<Record<string, MapMark>>(() => {
  const out: Record<string, MapMark> = {}
  for (const [id, w] of Object.entries(board.value?.fixed?.words ?? {})) out[id] = { name: w.name, code: w.code }
  for (const e of board.value?.expected ?? []) {
    const mark = out[e.id]
    if (mark && e.kind === 'muscle' && e.times) Object.assign(mark, { state: 'off', line: bare(e.taken_g, 2) })
  }
  return out
})
const names = computed(() =>
  Object.fromEntries([
    ...(board.value?.expected ?? []).map((e) => [e.id, e.name] as const),
    ...(board.value?.fixed?.dressing ?? []).map((d) => [d.id, d.name] as const),
    ...(board.value?.fixed?.plan.products ?? []).map((p) => [p.id, p.name] as const),
    ...Object.values(board.value?.fixed?.words ?? {}).flatMap((w) => w.ends.map((e) => [e.id, e.name] as const)),
  ]),
)
const of = (e: S['BenchEvent']) => shortName(names.value[e.part ?? ''] ?? names.value[e.product ?? ''] ?? '')
const words = (l: S['LoggedEvent']) =>
  [
    of(l.event),
    l.event.net_g ? mass(l.event.net_g) : '',
    l.event.temp_c !== undefined ? temperature(l.event.temp_c) : '',
    l.event.shared ? say`a share of ${l.event.shared}` : '',
    l.event.count ? `× ${l.event.count}` : '',
    l.event.reason ? `“${l.event.reason}”` : '',
    l.event.note ? `“${l.event.note}”` : '',
  ]
    .filter(Boolean)
    .join(' ')
const now = computed(() => log.value?.[at.value - 1])

useTitle(() => board.value && `${shortName(board.value.piece.name)} ${board.value.piece.lot_number}`)
</script>

<template>
  <section class="page">
    <StateNote :error="error ?? boardError" :loading="isLoading" what="the log" @retry="refetch()" />
    <template v-if="log && board">
      <p class="label">
        <RouterLink :to="{ name: 'lot', params: { lot: board.piece.lot_id } }">{{ board.piece.lot_number }}</RouterLink>
        · {{ board.fixed?.plan.name }}
      </p>
      <h1 class="sentence big">{{ board.piece.name }}, event by event</h1>
      <div class="lay">
        <div>
          <SeamMap
            v-if="board.fixed"
            class="map"
            :map="board.fixed.seam_map"
            :marks="marks"
            :title="say`Seam map of ${board.piece.name} after ${at} events`"
            :size="3.6"
          />
          <label class="label" for="slider">After {{ at }} of {{ log.length }} events</label>
          <input id="slider" v-model.number="at" type="range" min="0" :max="log.length" step="1" />
          <p aria-live="polite" data-test="now">
            <strong>{{ now ? actionWords(`bench.${now.event.kind}`) : say('Before the first event') }}</strong>
            {{ now ? words(now) : '' }}
          </p>
          <p>
            {{
              board.input_g
                ? say`${mass(board.balance.output_g)} weighed off, ${mass(board.balance.residual_g)} unaccounted for.`
                : say('Not weighed yet.')
            }}
          </p>
        </div>
        <ol class="events">
          <li v-for="(l, i) in log" :key="l.event.id" :class="{ here: i + 1 === at, void: l.void, later: i >= at }">
            <button type="button" @click="at = i + 1">
              <span class="small">{{ moment(l.event.at) }}</span> {{ l.name ?? l.event.role }}
              <strong>{{ actionWords(`bench.${l.event.kind}`) }}</strong> {{ words(l)
              }}<span v-if="l.void" class="small"> undone</span>
            </button>
          </li>
        </ol>
      </div>
    </template>
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0 14px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 36px;
  align-items: start;
}
.lay > div {
  position: sticky;
  top: 72px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.map {
  max-height: 400px;
}
input[type='range'] {
  width: 100%;
  height: 44px;
  accent-color: var(--act);
}
.events {
  margin: 0;
  padding-left: 28px;
}
.events button {
  width: 100%;
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  background: none;
  padding: 6px 4px;
  min-height: 44px;
  cursor: pointer;
}
.events li.here button {
  background: var(--act-wash);
}
.events li.later {
  color: var(--ink-2);
}
.events li.void strong {
  text-decoration: line-through;
}
@media (max-width: 900px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
  .lay > div {
    position: static;
  }
}
</style>
