<script setup lang="ts">
// What the hand needs to know now: before the first cut the cautions and what was found; then the seam's tell and
// danger.
import { computed, defineAsyncComponent, ref } from 'vue'
import { useHouseNotes, usePracticeMark } from '../learn/useLearning'
import { useMe } from '../shell/me'
import { shortName } from '../words/shown'
import type { S } from '../api/client'
import type { NextStep } from './useSteps'
import { say } from '../words/say'

const HouseNotes = defineAsyncComponent(() => import('../learn/HouseNotes.vue'))
const props = defineProps<{
  board: S['Board']
  target?: S['Expected']
  opened: boolean
  looked: boolean
  inside?: { name: string; how: string }
  /** Steps that leave nothing to weigh, before the next weighing. */
  meanwhile?: NextStep[]
  /** The weighings after the next one. */
  ahead?: S['Expected'][]
  /** A step can be ticked, or left out. */
  may?: boolean
}>()
const emit = defineEmits<{ tick: [string]; skip: [string] }>()
const ticked = defineModel<string[]>('ticked', { required: true })
const words = computed(() =>
  props.target
    ? props.board.fixed?.words[props.target.step ? `step:${props.target.step}` : props.target.id]
    : undefined,
)
const wordsOf = (e: S['Expected']) => props.board.fixed?.words[e.step ? `step:${e.step}` : e.id]
const names = computed(() => Object.fromEntries(props.board.expected.map((e) => [e.step ?? e.id, shortName(e.name)])))
/** What must come off first, as far as it is weighed and not off yet. */
const before = computed(() =>
  (props.target?.waits_for ?? []).filter((w) => {
    const e = props.board.expected.find((x) => (x.step ?? x.id) === w)
    return e ? !e.times : !props.target?.step
  }),
)
/** A practice piece says its words when they are asked for, or not at all; what the house says goes with them. */
const { data: mark } = usePracticeMark(props.board.id)
const { data: notes } = useHouseNotes(() => props.board.piece.atlas_id)
/** What the house says of a step, who leads the cutting writes where they stand. */
const { leads } = useMe()
const asked = ref('')
const level = computed(() => (mark.value?.practice ? (mark.value.level ?? 1) : 1))
const telling = computed(() => level.value === 1 || (level.value === 2 && asked.value === props.target?.key))
const house = computed(() => {
  const t = props.target
  const plan = props.board.fixed?.plan.id
  return (notes.value ?? []).filter((n) => t && [t.step, t.id].includes(n.step) && (!n.plan || n.plan === plan))
})
const noting = ref(false)
const about = computed(() => ({
  piece: props.board.piece.atlas_id,
  step: props.target?.step ?? props.target?.id ?? '',
  ...(props.target?.step && { plan: props.board.fixed?.plan.id ?? '' }),
}))
</script>

<template>
  <div class="words" aria-live="polite">
    <template v-if="!opened">
      <template v-if="board.fixed?.findings.length"
        ><h2>Found on this piece</h2>
        <p v-for="f in board.fixed?.findings" :key="f.id" class="danger">{{ f.do }}</p></template
      >
      <h2>Before the first cut</h2>
      <ul>
        <li v-for="c in board.fixed?.cautions" :key="c">{{ c }}</li>
      </ul>
      <fieldset v-if="!looked" class="points">
        <legend class="label">Look, smell, feel: touch what you find</legend>
        <label v-for="p in board.fixed?.inspect" :key="p.id" :class="{ on: ticked.includes(p.id) }"
          ><input v-model="ticked" class="vh" type="checkbox" :value="p.id" />{{ p.look
          }}<strong v-if="ticked.includes(p.id)">{{ p.do }}</strong></label
        >
      </fieldset>
      <p
        v-for="f in board.fixed?.inspect.filter((x) => looked && board.found.includes(x.id))"
        :key="f.id"
        class="danger"
      >
        {{ f.do }}
      </p>
      <p class="small">Local codes and your own training come first.</p>
    </template>
    <template v-else-if="inside"
      ><h2>{{ inside.name }}</h2>
      <p>{{ inside.how }}</p>
      <p class="small">
        What it becomes balances against its own weight; touch what lies on the scale, then book.
      </p></template
    >
    <template v-else-if="target && board.state !== 'closed'">
      <p v-if="board.notes.length" class="noted" data-test="noted">
        <span class="lead">Noted</span>{{ board.notes.at(-1) }}
      </p>
      <h2>{{ target.name }}</h2>
      <p v-if="before.length" class="danger">
        {{ target.step ? say('Comes after') : say('Lies under') }} {{ before.map((w) => names[w]).join(', ') }}. Take
        that off first; if you cut it now, it is noted.
      </p>
      <ol v-if="meanwhile?.length" class="meanwhile" data-test="meanwhile">
        <li v-for="(m, i) in meanwhile" :key="m.id" :class="{ now: i === 0 }">
          <button v-if="may" type="button" class="tick" :data-tick="m.id" @click="emit('tick', m.id)">Done</button>
          <strong>{{ m.words.name }}</strong> <span class="small">{{ m.words.tool }} {{ m.words.thickness }}</span>
          <span v-if="m.words.tell || m.words.danger" class="small say"
            >{{ m.words.tell }} <em>{{ m.words.danger }}</em></span
          >
        </li>
      </ol>
      <p v-if="target.step && words" class="step">
        <strong>{{ words.name }}</strong> <span v-if="words.tool" class="small">{{ words.tool }}</span>
      </p>
      <template v-if="telling">
        <p v-if="words?.thickness" class="thick">{{ words.thickness }}</p>
        <p v-if="words?.hold"><span class="lead">Hold it</span>{{ words.hold }}</p>
        <p v-if="words?.tell"><span class="lead">Find it</span>{{ words.tell }}</p>
        <p v-if="words?.danger" class="danger"><span class="lead">What goes wrong</span>{{ words.danger }}</p>
        <p v-for="n in house" :key="n.id" class="house" data-test="house-note">
          <span class="lead">The house says</span>{{ n.words }}
          <a v-if="n.picture" :href="`/api/v1/pictures/${n.picture}`" target="_blank" rel="noopener">The photograph</a>
        </p>
      </template>
      <p v-else-if="level === 2" class="hidden">
        <button type="button" class="tick ask" data-test="tell" @click="asked = target.key">Tell me how</button>
      </p>
      <p v-else class="small" data-test="untold">Practice without words. The cautions hold as always.</p>
      <p v-if="words?.grade_conflict" class="danger" data-test="doubt">
        <span class="lead">The grades speak against it</span>{{ words.grade_conflict }}
      </p>
      <p v-if="words?.dressing_pct" class="small">
        This way of cutting dresses about {{ words.dressing_pct }} % off it (estimated).
      </p>
      <p v-if="!words && target.kind === 'tub'" class="small">
        Weigh the tub when it suits; weigh it again as it fills, the weights add up.
      </p>
      <p v-else-if="!words" class="small">Weigh it together, or as it comes; weights of the same kind add up.</p>
      <button v-if="may && target.step" type="button" class="skip" data-test="skip" @click="emit('skip', target.step)">
        Leave this step out
      </button>
      <template v-if="leads && target.kind !== 'tub'">
        <button type="button" class="skip" data-test="house-says" @click="noting = !noting">
          {{ noting ? say('Back to the words') : say('Say it for the house') }}
        </button>
        <HouseNotes v-if="noting" :notes="house" :about="about" may @keydown.stop />
      </template>
      <ol v-if="ahead?.length" class="ahead" data-test="ahead">
        <li v-for="e in ahead" :key="e.key">
          <span class="small">Then</span> {{ shortName(e.name) }}
          <span v-if="wordsOf(e)?.thickness" class="small">{{ wordsOf(e)?.thickness }}</span>
        </li>
      </ol>
    </template>
    <p v-else-if="board.state !== 'closed'">
      Everything that was expected is weighed. Feel the board once more for scraps, then finish.
    </p>
  </div>
</template>

<style scoped>
.words {
  font-size: 15px;
  display: flex;
  flex-direction: column;
  gap: 6px;
  max-width: 68ch;
}
ul {
  margin: 0;
  padding-left: 20px;
}
.points {
  border: 0;
  padding: 0;
  margin: 4px 0;
  display: grid;
  gap: 4px;
}
.points label {
  display: block;
  min-height: 56px;
  padding: 8px 12px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  cursor: pointer;
  font-size: 13px;
}
.points label.on {
  border: 2px solid var(--act);
}
.points strong {
  display: block;
  color: var(--act);
}
.points label:focus-within {
  outline: 3px solid var(--act);
  outline-offset: 1px;
}
.lead {
  display: block;
  font-size: 13px;
  font-stretch: 82%;
  font-weight: 650;
  color: var(--ink-2);
}
.meanwhile {
  padding-left: 22px;
  margin: 0;
}
.meanwhile li {
  padding: 4px 0;
  overflow: auto;
}
.tick,
.skip {
  min-height: 56px;
  padding: 0 16px;
  border: 1px solid var(--ink);
  border-radius: 2px;
  background: none;
  font-weight: 600;
  cursor: pointer;
}
.tick {
  float: right;
  margin-left: 10px;
}
.now .tick {
  border: 2px solid var(--act);
  color: var(--act);
}
.skip {
  align-self: start;
  border-color: var(--line);
}
.ahead {
  list-style: none;
  margin: 4px 0 0;
  padding: 6px 0 0;
  border-top: 1px solid var(--hairline);
  color: var(--ink-2);
  font-size: 13px;
}
.say {
  display: block;
}
.say em {
  font-style: normal;
  color: var(--act);
}
.ask {
  float: none;
  margin: 0;
}
.house {
  border-left: 3px solid var(--ink);
  padding-left: 10px;
}
.thick {
  font-size: 34px;
  font-weight: 700;
  line-height: 1.1;
}
.danger .lead {
  color: var(--act);
}
.danger {
  color: var(--act);
  font-weight: 600;
}
</style>
