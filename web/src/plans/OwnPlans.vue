<script setup lang="ts">
// The shop's own ways of cutting a piece: change one, retire it, or see what it was.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import StateNote from '../components/StateNote.vue'
import { data, GET, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import { moment, percent } from '../words/shown'
import { say } from '../words/say'

const props = defineProps<{ piece: string; plans: S['PlanDetail'][] }>()
const queries = useQueryClient()
const { may } = useMe()
const { busy, problem, attempt } = useAttempt()
const opened = ref('')
const {
  data: versions,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('plan-versions', props.piece, opened.value)),
  enabled: () => opened.value !== '',
  queryFn: () =>
    data(
      GET('/plans/{atlas_id}/{plan_id}/versions', {
        params: { path: { atlas_id: props.piece, plan_id: opened.value } },
      }),
    ),
})
const retire = (p: S['PlanDetail'], retired: boolean) =>
  attempt(async () => {
    await data(
      PUT('/plans/{atlas_id}/{plan_id}/retired', {
        params: { path: { atlas_id: props.piece, plan_id: p.plan.id } },
        body: { retired, version: p.plan.version },
      }),
    )
    await queries.invalidateQueries()
  })
const made = (p: S['Plan']) =>
  p.products
    .map(
      (r) =>
        `${r.name} (${Object.entries(r.from)
          .map(([part, pct]) => `${part.replace(/_/g, ' ')} ${percent(pct, 0)}`)
          .join(', ')})`,
    )
    .join('; ')
</script>

<template>
  <div class="own">
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <p v-if="!plans.length" class="small">
      None yet. Copy any way above and change where a muscle goes, a thickness, a price or the minutes; what was cut by
      an older version keeps it.
    </p>
    <article v-for="p in plans" :key="p.plan.id" :class="{ retired: p.retired }" :data-own="p.plan.name">
      <div class="spread">
        <h3>{{ p.plan.name }}</h3>
        <span class="small"
          >version {{ p.plan.version }}, {{ p.made_by }}, {{ p.made_at ? moment(p.made_at) : ''
          }}{{ p.retired ? say(' · retired') : '' }}</span
        >
      </div>
      <p v-for="f in p.faults" :key="f" class="fault">It does not fit the piece any more: {{ f }}</p>
      <div class="row">
        <RouterLink
          v-if="may('PUT /plans/{atlas_id}/{plan_id}')"
          :to="{ name: p.plan.stepped ? 'plan-steps-edit' : 'plan-edit', params: { piece, plan: p.plan.id } }"
          >Change it</RouterLink
        >
        <PvButton
          v-if="may('PUT /plans/{atlas_id}/{plan_id}/retired')"
          text
          :label="p.retired ? say('Use it again') : say('Retire it')"
          :disabled="busy"
          @click="retire(p, !p.retired)"
        />
        <a :href="`/api/v1/plans/${piece}/${p.plan.id}/file`" download>As a file</a>
        <PvButton
          text
          :label="opened === p.plan.id ? say('Hide its versions') : say('Its versions')"
          @click="opened = opened === p.plan.id ? '' : p.plan.id"
        />
      </div>
      <template v-if="opened === p.plan.id">
        <StateNote :error="error" :loading="isLoading" what="the versions" @retry="refetch()" />
        <ol v-if="versions" class="versions">
          <li v-for="v in versions" :key="v.plan.version" :value="v.plan.version">
            <strong>{{ v.plan.name }}</strong>, {{ v.plan.minutes }} minutes
            <span class="small">{{ v.made_by }}, {{ moment(v.made_at) }}</span
            ><br /><span class="small">{{ made(v.plan) }}</span>
          </li>
        </ol>
      </template>
    </article>
  </div>
</template>

<style scoped>
.own {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
article {
  border-top: 1px solid var(--hairline);
  padding-top: 8px;
}
article.retired h3 {
  color: var(--ink-2);
}
.versions {
  margin: 4px 0;
  padding-left: 24px;
}
.versions li {
  margin: 6px 0;
}
</style>
