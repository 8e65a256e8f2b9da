<script setup lang="ts">
// Many prices at once, from a file or the market feed: what they would change is shown before anything is saved.
import { computed, ref } from 'vue'
import PvButton from 'primevue/button'
import { filesIn } from '../components/entries'
import FileLinks from '../components/FileLinks.vue'
import FilePick from '../components/FilePick.vue'
import { useFileImport } from '../components/useFileImport'
import { data, fileBody, POST, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import { counted, say } from '../words/say'

defineProps<{ hasFeed: boolean }>()
const words = { new: say('new'), changed: say('changes'), same: say('stands already'), bad: say('left out') } as const

const { me, may } = useMe()
/** Other shops of one's own from which prices may be copied. */
const others = computed(
  () =>
    me.value?.shops.filter(
      (s) => s.id !== me.value?.shop_id && !s.example && ['owner', 'head_cutter', 'yield_desk'].includes(s.role),
    ) ?? [],
)
/** Where the list comes from, where it is no file: the market feed, or the id of a shop. */
const source = ref('')
const { chosen, seen, said, busy, problem, look, keep, leave } = useFileImport(
  (file, save) =>
    source.value ? fetched(save) : data(POST('/prices/import', { params: { query: { save } }, ...fileBody(file) })),
  (done: S['PriceImport']) => say`${counted(done.set, 'price')} set.`,
)
const lookAtFile = (file: File) => {
  source.value = ''
  void look(file)
}
const { busy: fetching, problem: silent, attempt } = useAttempt()
const fetched = (save: boolean) =>
  source.value === 'feed'
    ? data(POST('/prices/feed', { params: { query: { save } } }))
    : data(POST('/prices/copy', { params: { query: { shop_id: source.value, save } } }))
const fetchFrom = (from: string, called: string) =>
  attempt(async () => {
    source.value = from
    chosen.value = new File([], called)
    said.value = ''
    seen.value = await fetched(false)
  })
const files = filesIn(['csv', 'xlsx'], (f) => `/api/v1/prices/export?format=${f}`)
</script>

<template>
  <div class="row no-print">
    <FileLinks lead="The list as" :files="files" />
    <FilePick v-if="may('POST /prices/import')" label="Import prices" :busy="busy" @picked="lookAtFile" />
    <PvButton
      v-if="hasFeed && may('POST /prices/feed')"
      severity="secondary"
      label="Fetch market prices"
      :loading="fetching"
      data-test="feed"
      @click="fetchFrom('feed', say('The market feed'))"
    />
    <template v-if="may('POST /prices/copy')">
      <PvButton
        v-for="o in others"
        :key="o.id"
        severity="secondary"
        :label="say`Copy from ${o.name}`"
        :loading="fetching"
        data-test="copy-prices"
        @click="fetchFrom(o.id, o.name)"
      />
    </template>
  </div>
  <p v-if="said" role="status" class="whole">
    <strong>{{ said }}</strong>
  </p>
  <p v-if="silent" class="fault whole" role="alert">
    {{ silent.errors[0] ? `${silent.errors[0].message} ${silent.errors[0].hint ?? ''}` : silent.message }}
  </p>
  <p v-if="problem" class="fault whole" role="alert">
    {{ problem.ofFile() }}
  </p>
  <section v-if="seen" class="box whole" aria-label="What the list would do">
    <h2>{{ chosen?.name }}: {{ seen.set }} to set, {{ seen.same }} stand already, {{ seen.bad }} left out</h2>
    <table v-wide>
      <thead>
        <tr>
          <th>Line</th>
          <th>Product</th>
          <th>Where</th>
          <th class="n">Was</th>
          <th class="n">Becomes</th>
          <th>What it does</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="l in seen.lines" :key="l.line" :class="l.state">
          <td>{{ l.line }}</td>
          <td>{{ l.product }}</td>
          <td>{{ l.where ?? say('everywhere') }}</td>
          <td class="n">{{ l.was }}</td>
          <td class="n">{{ l.price }}{{ l.per ? say` per ${l.per}` : '' }}</td>
          <td>
            <strong>{{ words[l.state] }}</strong> <span v-if="l.fault" class="fault">{{ l.fault }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <div class="row">
      <PvButton
        v-if="seen.set"
        :label="
          seen.bad
            ? say`Save ${counted(seen.set, 'price')}, leave ${seen.bad} out`
            : say`Save ${counted(seen.set, 'price')}`
        "
        :disabled="busy"
        @click="keep"
      /><PvButton text label="Cancel" @click="leave" />
    </div>
  </section>
</template>

<style scoped>
.whole {
  flex-basis: 100%;
}
section.box {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
tr.same td {
  color: var(--ink-2);
}
</style>
