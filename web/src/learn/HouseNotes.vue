<script setup lang="ts">
// What the house says of a step, or somebody of a practice piece: words, each with a photograph where there is one.
import { ref } from 'vue'
import PvButton from 'primevue/button'
import PvInputText from 'primevue/inputtext'
import FilePick from '../components/FilePick.vue'
import FormField from '../components/FormField.vue'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { moment } from '../words/shown'
import { useNoting } from './useLearning'
import { say } from '../words/say'

const props = defineProps<{ notes: S['HouseNote'][]; about: Omit<S['NewNote'], 'words'>; may?: boolean }>()
const { add, remove } = useNoting()
const { ask } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const words = ref('')
const picture = ref<File>()
const keep = () =>
  attempt(async () => {
    await add({ ...props.about, words: words.value.trim() }, picture.value)
    words.value = ''
    picture.value = undefined
  })
const drop = async (n: S['HouseNote']) => {
  const sure = await ask({
    title: say('Take this note away?'),
    text: n.picture ? say('Its photograph goes with it.') : say('It is shown nowhere any more.'),
    yes: say('Take it away'),
  })
  if (sure) await attempt(() => remove(n.id))
}
</script>

<template>
  <ul v-if="notes.length" class="notes" data-test="notes">
    <li v-for="n in notes" :key="n.id">
      <a v-if="n.picture" :href="`/api/v1/pictures/${n.picture}`" target="_blank" rel="noopener"
        ><img :src="`/api/v1/pictures/${n.picture}`" :alt="n.words" loading="lazy"
      /></a>
      <div>
        <p>{{ n.words }}</p>
        <p class="small">{{ n.by }}, {{ moment(n.at) }}</p>
        <PvButton v-if="n.mine && may" text label="Take away" :disabled="busy" @click="drop(n)" />
      </div>
    </li>
  </ul>
  <p v-else class="small">Nothing noted yet.</p>
  <form v-if="may" class="new no-print" @submit.prevent="keep">
    <FormField id="note-words" label="A note" :fault="problem?.at('words')">
      <PvInputText id="note-words" v-model="words" maxlength="500" autocomplete="off" />
    </FormField>
    <FilePick
      :label="picture ? picture.name : say('A photograph')"
      accept="image/jpeg,image/png"
      test="note-picture"
      @picked="(f) => (picture = f)"
    />
    <PvButton type="submit" label="Keep" :disabled="busy || !words.trim()" data-test="note-keep" />
  </form>
  <p v-if="problem && !problem.at('words')" class="fault" role="alert">
    {{ problem.at('picture') || problem.message }}
  </p>
</template>

<style scoped>
.notes {
  list-style: none;
  margin: 6px 0;
  padding: 0;
  display: grid;
  gap: 10px;
}
.notes li {
  display: flex;
  gap: 14px;
  align-items: start;
}
.notes p {
  margin: 0;
}
img {
  width: 132px;
  height: 99px;
  object-fit: cover;
  border: 1px solid var(--line);
}
.new {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}
.new > :first-child {
  flex: 1 1 320px;
}
</style>
