<script setup lang="ts">
// A supplier's or programme's sheet of scores: its columns mapped, looked at, then kept.
import { computed, reactive, ref } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import { data, fileBody, POST, type S } from '../api/client'
import PickOne from '../components/PickOne.vue'
import FilePick from '../components/FilePick.vue'
import { useFileImport } from '../components/useFileImport'
import { say } from '../words/say'

const columns = ['piece', 'muscle', 'method', say('score')] as const
const named = reactive<Record<string, string>>({ piece: '', muscle: '', method: '', score: '' })
const source = ref('')
const { chosen, seen, said, busy, problem, look, keep, leave } = useFileImport(
  async (file, save) => {
    const query = {
      save,
      ...(source.value.trim() && { source: source.value.trim() }),
      ...Object.fromEntries(columns.filter((c) => named[c]).map((c) => [c, named[c]])),
    }
    const sheet = await data(
      POST('/given/import', {
        params: { query },
        ...fileBody(file),
      }),
    )
    Object.assign(named, sheet.columns)
    return sheet
  },
  (done: S['GivenSheet']) => say`${done.good} ${done.good === 1 ? say('score') : say('scores')} kept.`,
)
const bad = computed(() => seen.value?.lines?.filter((l) => l.fault) ?? [])
function start(file: File) {
  for (const c of columns) named[c] = ''
  void look(file)
}
function mapped(column: string, heading?: string) {
  named[column] = heading ?? ''
  void look()
}
</script>

<template>
  <section class="given" aria-label="Scores that others gave">
    <div class="spread">
      <h2>Scores that others gave</h2>
      <FilePick label="Read a sheet in" :busy="busy" test="given-file" @picked="start" />
    </div>
    <p class="small">
      One line for each muscle and cooking method, with a score of 100. A later score of the same takes the place of the
      earlier.
    </p>
    <p v-if="said" role="status">
      <strong>{{ said }}</strong>
    </p>
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <div v-if="seen" class="box stack">
      <h3>{{ chosen?.name }}: {{ seen.good }} good, {{ seen.bad }} left out</h3>
      <div class="columns">
        <FormField v-for="c in columns" :id="`col-${c}`" :key="c" :label="say`The ${c} stands in`"
          ><PickOne
            :id="`col-${c}`"
            :model-value="named[c]"
            :options="seen.heading"
            none="(none)"
            @update:model-value="mapped(c, $event)"
        /></FormField>
      </div>
      <FormField id="source" label="Who gave them" :fault="problem?.at('source')"
        ><InputText id="source" v-model="source" maxlength="80" autocomplete="off"
      /></FormField>
      <table v-wide>
        <thead>
          <tr>
            <th>Line</th>
            <th>Piece</th>
            <th>Muscle</th>
            <th>Method</th>
            <th class="n">Score</th>
            <th>Fault</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in seen.lines?.slice(0, 200)" :key="l.line">
            <td>{{ l.line }}</td>
            <td>{{ l.piece }}</td>
            <td>{{ l.muscle }}</td>
            <td>{{ l.method }}</td>
            <td class="n">{{ l.fault ? '' : l.score }}</td>
            <td>
              <span v-if="l.fault" class="fault">{{ l.fault }}</span>
            </td>
          </tr>
        </tbody>
      </table>
      <div class="row">
        <PvButton
          v-if="seen.good"
          :label="bad.length ? say`Keep the ${seen.good}, leave ${bad.length} out` : say`Keep the ${seen.good}`"
          :disabled="busy || !source.trim()"
          data-test="keep-given"
          @click="keep"
        /><PvButton text label="Keep nothing" @click="leave" />
      </div>
    </div>
  </section>
</template>

<style scoped>
.given {
  margin-top: 28px;
  border-top: 4px solid var(--ink);
  padding-top: 10px;
}
.columns {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 12px;
}
@media (max-width: 700px) {
  .columns {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
