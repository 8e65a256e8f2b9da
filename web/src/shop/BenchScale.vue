<script setup lang="ts">
// The scale of a bench: when it was checked last with a test weight, and all checks on demand.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import StateNote from '../components/StateNote.vue'
import { data, GET, type S } from '../api/client'
import { moment } from '../words/shown'
import ScaleLines from './ScaleLines.vue'
import { say } from '../words/say'

const props = defineProps<{ bench: string; name: string; connected: boolean; detail: S['BenchDetail'] }>()
const emit = defineEmits<{ changed: [] }>()
const all = ref(false)
const {
  data: list,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: keyOf('checks', props.bench),
  queryFn: () => data(GET('/benches/{bench_id}/checks', { params: { path: { bench_id: props.bench } } })),
})
const says = (c: S['ScaleCheck']) =>
  say`${moment(c.at)}, ${c.name}: ${c.weight_g} g showed ${c.shown_g} g${c.source === 'typed' ? ' (typed)' : ''}, ` +
  (c.fits ? 'fits' : say`off by ${c.off_g} g where ${c.allowed_g} g are allowed`)
const last = computed(() => list.value?.state.last)
</script>

<template>
  <div class="scale">
    <p class="small">
      {{ connected ? say('A scale is connected.') : say('No scale is connected; weights are typed.') }}
    </p>
    <StateNote :error="error" :loading="isLoading" what="the checks" @retry="refetch()" />
    <template v-if="list">
      <p class="small" :class="{ fault: last && !last.fits }">
        {{ last ? say`Checked ${says(last)}.` : say('Never checked with a test weight.') }}
        <strong v-if="list.state.due">A check is due: at the bench, Tub, “Check with a test weight”.</strong>
      </p>
      <PvButton
        v-if="list.checks.length > 1"
        text
        :label="all ? say('Close') : say`All ${list.checks.length} checks`"
        :aria-label="say`${all ? say('Close') : say('All')} checks of ${name}`"
        :aria-expanded="all"
        @click="all = !all"
      />
      <ul v-if="all" class="small">
        <li v-for="c in list.checks" :key="c.id" :class="{ fault: !c.fits }">{{ says(c) }}.</li>
      </ul>
    </template>
    <ScaleLines v-if="connected" :bench="detail" @changed="emit('changed')" />
  </div>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 18px;
  max-height: 240px;
  overflow-y: auto;
}
</style>
