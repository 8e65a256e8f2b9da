<script setup lang="ts">
// Who changed what of a lot, the latest first.
import type { S } from '../../api/client'
import { actionWords, changes } from '../../shop/auditWords'
import { moment } from '../../words/shown'

defineProps<{ history: S['AuditRow'][] }>()
const line = (h: S['AuditRow']) =>
  changes(h)
    .filter((c) => c.what !== 'reason')
    .map((c) => `${c.what} ${c.was ? `${c.was} → ` : ''}${c.became}`)
    .join(' · ')
const why = (h: S['AuditRow']) => String((h.became as Record<string, unknown> | undefined)?.reason ?? '')
</script>

<template>
  <h2>Who changed what</h2>
  <ol class="history">
    <li v-for="(h, i) in history" :key="i">
      <strong>{{ h.name }}</strong> {{ actionWords(h.action) }}
      <span class="small">{{ moment(h.at) }}{{ h.bench ? `, ${h.bench}` : '' }}</span
      ><span v-if="why(h)" class="why">“{{ why(h) }}”</span><span class="small what">{{ line(h) }}</span>
    </li>
  </ol>
</template>

<style scoped>
.history {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}
.history li {
  border-top: 1px solid var(--hairline);
  padding: 8px 0;
}
.why,
.what {
  display: block;
}
.what {
  overflow-wrap: anywhere;
}
</style>
