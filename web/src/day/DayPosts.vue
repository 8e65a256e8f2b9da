<script setup lang="ts">
// Who stands at which bench, from when to when, with which pauses; and how long cleaning takes.
import { computed } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import type { S } from '../api/client'
import type { Problem } from '../api/problem'
import type { DayForm } from './dayDraft'
import { say } from '../words/say'

const props = defineProps<{ problem?: Problem; benches: S['Named'][]; cutters: S['Named'][] }>()
const form = defineModel<DayForm>({ required: true })
const fault = (f: string) => props.problem?.at(f) ?? ''
const fields = ['bench_id', 'cutter_id', 'from', 'to', 'pauses', 'pauses[0].from', 'pauses[0].to']
const faultOf = (i: number) =>
  fields
    .map((f) => fault(`posts[${i}].${f}`))
    .filter(Boolean)
    .join(' ')
const free = computed(() => props.benches.filter((b) => !form.value.posts.some((p) => p.bench_id === b.id)))
const add = () =>
  form.value.posts.push({
    bench_id: free.value[0]!.id,
    cutter_id: '',
    from: form.value.posts[0]?.from ?? '08:00',
    to: form.value.posts[0]?.to ?? '16:00',
    pause: form.value.posts[0]?.pause ?? '12:00',
    back: form.value.posts[0]?.back ?? '12:30',
  })
const rules = [
  { id: 'clean', label: say('Clean a bench between species, minutes') },
  { id: 'clean_saw', label: say('Clean the saw between species, minutes') },
  { id: 'wash', label: say('Wash down after an allergen, minutes') },
] as const
</script>

<template>
  <div class="posts">
    <div v-for="(p, i) in form.posts" :key="i" class="post">
      <PickOne v-model="p.bench_id" :options="benches" :label="say`Bench of post ${i + 1}`" class="who" />
      <PickOne v-model="p.cutter_id" :options="cutters" none="whoever is there" :label="say`Cutter of post ${i + 1}`" />
      <label
        >from
        <InputText v-model="p.from" :aria-label="say`Post ${i + 1} from`" :invalid="!!fault(`posts[${i}].from`)" />
      </label>
      <label
        >to <InputText v-model="p.to" :aria-label="say`Post ${i + 1} to`" :invalid="!!fault(`posts[${i}].to`)"
      /></label>
      <label
        >pause
        <InputText v-model="p.pause" :aria-label="say`Pause of post ${i + 1} from`" placeholder="none" />
      </label>
      <label>to <InputText v-model="p.back" :aria-label="say`Pause of post ${i + 1} to`" /></label>
      <PvButton
        v-if="form.posts.length > 1"
        text
        label="Nobody here"
        :aria-label="say`Nobody at post ${i + 1}`"
        @click="form.posts.splice(i, 1)"
      />
      <p v-if="faultOf(i)" class="fault" role="alert">{{ faultOf(i) }}</p>
    </div>
    <PvButton v-if="free.length" text label="Another bench" @click="add" />
    <p v-if="fault('posts')" class="fault" role="alert">{{ fault('posts') }}</p>
    <div class="rules">
      <FormField v-for="r in rules" :id="`day-${r.id}`" :key="r.id" :label="r.label" :fault="fault(`rules.${r.id}`)"
        ><InputText
          :id="`day-${r.id}`"
          v-model="form.rules[r.id]"
          inputmode="numeric"
          :invalid="!!fault(`rules.${r.id}`)"
          autocomplete="off"
      /></FormField>
    </div>
  </div>
</template>

<style scoped>
.posts {
  display: flex;
  flex-direction: column;
  align-items: start;
  gap: 8px;
}
.post {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
}
.post .p-inputtext {
  width: 78px;
}
.post label {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.post .fault {
  width: 100%;
}
.rules {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 20px;
}
.rules :deep(input) {
  width: 90px;
}
</style>
