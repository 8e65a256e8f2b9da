<script setup lang="ts">
// A delivery note as a file: looked at line by line first; only the good lines are received, and only when asked.
import PvButton from 'primevue/button'
import { data, fileBody, POST, type S } from '../../api/client'
import { useFileImport } from '../../components/useFileImport'
import FilePick from '../../components/FilePick.vue'
import { useShop } from '../../shell/shop'
import { say } from '../../words/say'

const { mass, money } = useShop()
const columns =
  'lot_number,piece,pieces,weight,unit,price,per,slaughtered_on,packed_on,supplier,weights,bone,feed,sex,age_class,' +
  'hang,fat_class,marbling,supplier_grade,ph,temperature_c,note,fat_pct,lean_yield_pct,breed,' +
  'born_in,reared_in,slaughtered_in,plant'
const example = 'SK-1,rump,2,13.4,kg,11.40,kg,2026-11-02,2026-11-04,A croft,6.5 6.9,,grass,heifer,,,,,,5.6,3,,,,,,,,'
const template = `data:text/csv;charset=utf-8,${encodeURIComponent(`${columns}\n${example}\n`)}`

const { chosen, seen, said, busy, problem, look, keep, leave } = useFileImport(
  (file, save) =>
    data(
      POST('/lots/import', {
        params: { query: { save } },
        ...fileBody(file),
      }),
    ),
  (done: S['NoteImport']) => say`${done.good} lot${done.good === 1 ? '' : 's'} received; the pieces hang on the rail.`,
)
</script>

<template>
  <section class="page">
    <p class="label">
      <RouterLink :to="{ name: 'receive' }">Receive</RouterLink> ·
      <RouterLink :to="{ name: 'lots' }">Lots received</RouterLink>
    </p>
    <h1 class="sentence big">A delivery note as a file</h1>
    <p class="lead">
      CSV or XLSX; the first line names the columns, each further line is a lot. A piece is named by any market's name,
      its item number or its id. Nothing is received before you have seen every line.
    </p>
    <div class="row">
      <FilePick label="Choose the file" :busy="busy" @picked="look" /><a :href="template" download="delivery-note.csv"
        >An example to fill in</a
      >
    </div>
    <p v-if="said" role="status">
      <strong>{{ said }}</strong> <RouterLink :to="{ name: 'rail' }">To the rail</RouterLink>
    </p>
    <p v-if="problem" class="fault" role="alert">
      {{ problem.ofFile() }}
    </p>
    <section v-if="seen" class="seen" aria-label="What the note holds">
      <h2>{{ chosen?.name }}: {{ seen.good }} good line{{ seen.good === 1 ? '' : 's' }}, {{ seen.bad }} bad</h2>
      <table v-wide>
        <thead>
          <tr>
            <th>Line</th>
            <th>Lot</th>
            <th>Piece</th>
            <th class="n">Pieces</th>
            <th class="n">Weight</th>
            <th class="n">Cost</th>
            <th>What is wrong</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in seen.lines" :key="l.line" :class="{ bad: l.faults.length }">
            <td>{{ l.line }}</td>
            <td>{{ l.lot_number }}</td>
            <td>{{ l.piece ?? l.named }}</td>
            <td class="n">{{ l.pieces }}</td>
            <td class="n">{{ l.total_g ? mass(l.total_g, 2) : '' }}</td>
            <td class="n">{{ l.cost ? money(l.cost) : '' }}</td>
            <td>
              <p v-for="f in l.faults" :key="f" class="fault">{{ f }}</p>
            </td>
          </tr>
        </tbody>
      </table>
      <div class="row">
        <PvButton
          v-if="seen.good"
          :label="seen.bad ? say`Receive the ${seen.good}, leave ${seen.bad} out` : say`Receive the ${seen.good}`"
          :disabled="busy"
          @click="keep"
        /><PvButton text label="Receive nothing" @click="leave" />
      </div>
    </section>
    <details v-else class="small cols">
      <summary>The columns</summary>
      <p>
        {{ columns.replaceAll(',', ', ') }}. Needed are lot_number, piece, weight (or weights), price, slaughtered_on,
        and supplier; packed_on is left open where a piece hangs unpacked.
      </p>
    </details>
  </section>
</template>

<style scoped>
.lead {
  max-width: 78ch;
  margin: 8px 0 14px;
}
.seen {
  margin: 16px 0;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
tr.bad td {
  color: var(--ink-2);
}
.cols {
  margin-top: 16px;
  max-width: 78ch;
}
</style>
