<script setup lang="ts">
// The benches, the scale and the screens at each.
import { ref, shallowRef } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf, refresh } from '../api/keys'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { data, DELETE, GET, POST, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { moment } from '../words/shown'
import BenchScale from './BenchScale.vue'
import ShownOnce from './ShownOnce.vue'
import { say } from '../words/say'

type Bench = S['BenchDetail']
const queries = useQueryClient()
const {
  data: benches,
  error,
  isLoading,
  refetch,
} = useQuery({ queryKey: keyOf('benches'), queryFn: () => data(GET('/benches')), refetchInterval: 15_000 })
const { busy, problem, attempt } = useAttempt()
const feedback = useFeedback()
const code = shallowRef<{ bench: string; code: string; ends: string }>()
const naming = ref('')
const name = ref('')
const fresh = ref('')
const where = `${window.location.host}/enrol`

const done = () => refresh(queries, 'benches', 'shop', 'pieces')
const add = () =>
  attempt(async () => {
    await data(POST('/benches', { body: { name: fresh.value } }))
    fresh.value = ''
    await done()
  })
const change = (b: Bench, to: { name?: string; active?: boolean }) =>
  attempt(async () => {
    await data(
      PUT('/benches/{bench_id}', {
        params: { path: { bench_id: b.id } },
        body: { name: b.name, active: b.active, ...to, version: b.version },
      }),
    )
    naming.value = ''
    await done()
  })
const makeCode = (b: Bench) =>
  attempt(async () => {
    const made = await data(POST('/benches/{bench_id}/code', { params: { path: { bench_id: b.id } } }))
    code.value = { bench: b.name, code: made.code, ends: made.ends_at }
  })
const turn = async (b: Bench) => {
  const sure =
    !b.active ||
    (await feedback.ask({
      title: say`Take ${b.name} out of use?`,
      text: say('Nothing new can be put on it, and its screens are signed out. What was cut there stays.'),
      yes: say('Out of use'),
    }))
  if (!sure) return
  await change(b, { active: !b.active })
  if (problem.value) return
  feedback.done(say`${b.name} is ${b.active ? say('out of use') : say('back in use')}.`, () =>
    change({ ...b, active: !b.active, version: b.version + 1 }, { active: b.active }),
  )
}
const takeOff = async (b: Bench, screen: Bench['screens'][number]) => {
  const sure = await feedback.ask({
    title: say`Take this screen off ${b.name}?`,
    text: say`${screen.about} asks for a new code before it can be used again.`,
    yes: say('Take off'),
  })
  if (sure) await revoke(b, screen.id)
}
const revoke = (b: Bench, screen: string) =>
  attempt(async () => {
    await data(
      DELETE('/benches/{bench_id}/screens/{screen_id}', { params: { path: { bench_id: b.id, screen_id: screen } } }),
    )
    await done()
  })
function rename(b: Bench) {
  naming.value = b.id
  name.value = b.name
}
</script>

<template>
  <StateNote :error="error" :loading="isLoading" what="the benches" @retry="refetch()" />
  <template v-if="benches">
    <ShownOnce
      v-if="code"
      big
      :title="say`Code for ${code.bench}`"
      :secret="code.code"
      :says="say`Open ${where} on the bench's screen and type it, before ${moment(code.ends)}. It is good once.`"
      @done="code = undefined"
    />
    <p v-if="problem && !problem.at('name')" class="fault" role="alert">
      {{ problem.message }}
      <PvButton
        v-if="problem.status === 409 && problem.errors.length === 0"
        text
        label="Load it again"
        @click="refetch()"
      />
    </p>
    <div class="benches">
      <article v-for="b in benches" :key="b.id" class="bench" :class="{ out: !b.active }" :data-bench="b.name">
        <form v-if="naming === b.id" class="stack" novalidate @submit.prevent="change(b, { name })">
          <FormField :id="`bench-${b.id}`" label="Name" :fault="problem?.at('name')"
            ><InputText
              :id="`bench-${b.id}`"
              v-model="name"
              autofocus
              autocomplete="off"
              :invalid="!!problem?.at('name')"
          /></FormField>
          <div class="row">
            <PvButton type="submit" severity="secondary" label="Save" :disabled="busy" /><PvButton
              text
              label="Cancel"
              @click="naming = ''"
            />
          </div>
        </form>
        <h2 v-else>{{ b.name }}<span v-if="!b.active" class="small"> out of use</span></h2>
        <BenchScale :bench="b.id" :name="b.name" :connected="b.has_scale" :detail="b" @changed="refetch()" />
        <ul v-if="b.screens.length">
          <li v-for="s in b.screens" :key="s.id" class="spread">
            <span
              >{{ s.about }}, since {{ moment(s.enrolled_at)
              }}<span class="small"> · last used {{ moment(s.seen_at) }}</span></span
            ><PvButton
              text
              label="Take off"
              :aria-label="say`Take ${s.about} off ${b.name}`"
              :disabled="busy"
              @click="takeOff(b, s)"
            />
          </li>
        </ul>
        <p v-else class="small">No screen is enrolled here.</p>
        <div class="row">
          <PvButton v-if="b.active" severity="secondary" label="Enrol a screen" :disabled="busy" @click="makeCode(b)" />
          <PvButton v-if="naming !== b.id" text label="Rename" :aria-label="say`Rename ${b.name}`" @click="rename(b)" />
          <PvButton
            text
            :label="b.active ? say('Out of use') : say('Back into use')"
            :aria-label="`${b.name} ${b.active ? say('out of use') : say('back into use')}`"
            :disabled="busy"
            @click="turn(b)"
          />
        </div>
      </article>
      <form class="bench new" novalidate aria-label="Another bench" @submit.prevent="add">
        <h2>Another bench</h2>
        <FormField id="fresh" label="Name" :fault="naming ? '' : problem?.at('name')"
          ><InputText id="fresh" v-model="fresh" autocomplete="off" :invalid="!naming && !!problem?.at('name')"
        /></FormField>
        <div class="row"><PvButton type="submit" severity="secondary" label="Add" :disabled="busy" /></div>
      </form>
    </div>
    <details class="law">
      <summary>What trade law may ask of scales and labels</summary>
      <p>
        In most countries a scale by whose weights goods are priced or sold must be of an approved type, verified,
        sealed and verified again at intervals; a kitchen or workshop scale will do for yields and plans only. A net
        weight is without packaging, drip pad and string. Pre-packed meat usually needs its name, net weight, use-by
        date, how to keep it, the lot, the origin (for beef: born, reared, slaughtered, cut; for lamb: reared,
        slaughtered), the approval number and the price by weight. The check here is the house's own, by the limits for
        a scale of class III in service (OIML R 76); it replaces no verification. Your weights and measures office and
        food authority say what holds where you are.
      </p>
    </details>
  </template>
</template>

<style scoped>
.benches {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(340px, 1fr));
  gap: 20px;
}
.bench {
  border: 1px solid var(--hairline);
  border-top: 4px solid var(--ink);
  background: var(--surface);
  padding: 14px 16px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.bench.out {
  border-top-color: var(--hairline);
}
.bench.new {
  background: none;
  border-style: dashed;
  border-top-width: 1px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--hairline);
  align-items: center;
}
.law {
  margin-top: 24px;
  max-width: 75ch;
}
.law summary {
  min-height: 44px;
  cursor: pointer;
  font-weight: 600;
}
@media (max-width: 700px) {
  .benches {
    grid-template-columns: 1fr;
  }
}
</style>
