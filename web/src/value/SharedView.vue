<script setup lang="ts">
// A report as it was shared: read by whoever has the link, signed in or not.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import StateNote from '../components/StateNote.vue'
import { data, GET } from '../api/client'
import { asProblem } from '../api/problem'
import { moment } from '../words/shown'
import BarList from './BarList.vue'

const props = defineProps<{ link: string }>()
const {
  data: r,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('shared', props.link)),
  queryFn: () => data(GET('/shared/{share_link}', { params: { path: { share_link: props.link } } })),
  retry: false,
})
const gone = computed(() => error.value && asProblem(error.value).status === 404)
const print = () => window.print()
</script>

<template>
  <section class="page">
    <div v-if="gone" class="stack">
      <h1>There is nothing at this link</h1>
      <p>Its time is over, or whoever shared it has ended it. Ask them for another.</p>
    </div>
    <StateNote v-else :error="error" :loading="isLoading" what="the report" @retry="refetch()" />
    <template v-if="r">
      <p class="label">{{ r.shop }} · {{ r.title }} · as of {{ moment(r.made_at) }}</p>
      <h1 class="sentence" data-test="shared-sentence">{{ r.sentence }}</h1>
      <dl class="figures">
        <div v-for="f in r.figures" :key="f.label">
          <dt>{{ f.label }}</dt>
          <dd class="figure">{{ f.value }}</dd>
        </div>
      </dl>
      <BarList v-if="r.bars.length" :bars="r.bars" :title="r.bars_title ?? ''" />
      <div v-for="t in r.tables" :key="t.title" v-wide class="scroll">
        <table v-wide>
          <caption>
            {{
              t.title
            }}
          </caption>
          <thead>
            <tr>
              <th v-for="(c, i) in t.columns" :key="i" :class="{ n: i }">{{ c }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, k) in t.rows" :key="k">
              <td v-for="(c, i) in row" :key="i" :class="{ n: i && c.length < 24 }">{{ c }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-for="n in r.notes" :key="n" class="small">{{ n }}</p>
      <p class="row no-print">
        <PvButton severity="secondary" label="Print" @click="print" /><span v-if="r.expires_at" class="small"
          >This link ends on {{ moment(r.expires_at) }}.</span
        >
      </p>
    </template>
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0 14px;
}
.figures {
  display: flex;
  gap: 12px 44px;
  flex-wrap: wrap;
  margin: 0 0 16px;
}
.figures dt {
  font-size: 13px;
  color: var(--ink-2);
}
.figures dd {
  margin: 2px 0 0;
}
.scroll {
  overflow-x: auto;
  margin-top: 16px;
}
caption {
  text-align: left;
}
td,
th {
  padding: 4px 8px;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
</style>
