<script setup lang="ts">
// Files of tills that were read in; each can be taken back.
import PvButton from 'primevue/button'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { counted, say } from '../words/say'
import { moment, plainDay } from '../words/shown'

const props = defineProps<{ files: S['SaleFile'][]; may: boolean; undo: (file: string) => Promise<void> }>()
const { done, ask } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const back = async (f: S['SaleFile']) => {
  const says =
    say`The ${counted(f.lines, 'line')} of ${f.name} count no more` +
    (f.out_of_stock ? say(', and what was taken out of stock with them lies there again.') : '.')
  if (!(await ask({ title: say('Take this file back?'), text: says, yes: say('Take it back') }))) return
  await attempt(async () => {
    await props.undo(f.id)
    done(say`${f.name} is taken back; it can be read in again.`)
  })
}
</script>

<template>
  <details class="files">
    <summary>
      <strong>Files read in</strong> {{ counted(files.filter((f) => !f.undone).length, 'file') }}, the last
      {{ moment(files[0]!.read_at) }}
    </summary>
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <table v-wide>
      <thead>
        <tr>
          <th>File</th>
          <th>Till</th>
          <th>Days</th>
          <th class="n">Lines</th>
          <th>Read</th>
          <th><span class="vh">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="f in files" :key="f.id">
          <td>{{ f.name }}</td>
          <td>{{ f.till }}</td>
          <td>{{ plainDay(f.first) }} to {{ plainDay(f.last) }}</td>
          <td class="n">{{ f.lines }}</td>
          <td>{{ moment(f.read_at) }}{{ f.out_of_stock ? say(', out of stock') : '' }}</td>
          <td>
            <span v-if="f.undone" class="small">taken back</span
            ><PvButton v-else-if="may" text label="Take back" :disabled="busy" @click="back(f)" />
          </td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
.files {
  margin-top: 18px;
}
summary {
  min-height: 44px;
  padding-top: 12px;
  cursor: pointer;
}
</style>
