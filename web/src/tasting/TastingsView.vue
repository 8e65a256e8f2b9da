<script setup lang="ts">
// All tastings, latest first.
import { computed } from 'vue'
import PvButton from 'primevue/button'
import { useRouter } from 'vue-router'
import { keyOf } from '../api/keys'
import MoreRows from '../components/MoreRows.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET } from '../api/client'
import { usePages } from '../api/usePages'
import { useMe } from '../shell/me'
import { plainDay } from '../words/shown'
import { counted, say } from '../words/say'

const router = useRouter()
const { may } = useMe()
const {
  data: list,
  error,
  isLoading,
  refetch,
  hasNextPage,
  isFetchingNextPage,
  fetchNextPage,
} = usePages(
  keyOf('tastings'),
  (query) => data(GET('/tastings', { params: { query } })),
  (page) => page.tastings,
)
const open = computed(() => list.value?.filter((t) => t.state === 'open').length ?? 0)
const words = { open: 'open', closed: say('closed, counts'), void: 'void' } as const
</script>

<template>
  <section class="page">
    <p class="label"><RouterLink :to="{ name: 'grades' }">Grades</RouterLink></p>
    <div class="spread top">
      <h1 class="sentence">
        {{
          list?.length
            ? open
              ? say`${counted(open, 'tasting is', 'tastings are')} open; closed ones count for the grades.`
              : say('Every tasting is closed and counts for the grades.')
            : say('What do our own eaters say?')
        }}
      </h1>
      <PvButton v-if="may('POST /tastings')" label="Plan a tasting" @click="router.push({ name: 'tasting-new' })" />
    </div>
    <StateNote :error="error" :loading="isLoading" what="the tastings" @retry="refetch()" />
    <template v-if="list">
      <p v-if="!list.length" class="small">
        None yet. Ten eaters and a muscle cooked in two ways say more than any table.
      </p>
      <table v-else v-wide>
        <thead>
          <tr>
            <th>Held on</th>
            <th>Tasting</th>
            <th class="n">Eaters</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="t in list" :key="t.id" :class="t.state">
            <td>{{ plainDay(t.held_on) }}</td>
            <td>
              <RouterLink :to="{ name: 'tasting', params: { tasting: t.id } }"
                ><strong>{{ t.name }}</strong></RouterLink
              >
            </td>
            <td class="n">{{ t.assessors }}</td>
            <td>
              {{ words[t.state] }} <span v-if="t.reason" class="small">{{ t.reason }}</span>
            </td>
          </tr>
        </tbody>
      </table>
      <MoreRows :more="hasNextPage" :busy="isFetchingNextPage" @more="fetchNextPage()" />
    </template>
  </section>
</template>

<style scoped>
.top {
  margin: 8px 0 16px;
  align-items: center;
}
td {
  padding: 12px 8px;
}
tr.void td {
  color: var(--ink-2);
  text-decoration: line-through;
}
</style>
