<script setup lang="ts">
// The numbers of products: the shop's own, which a till reads, and those of articles, which any scanner does.
import { reactive, ref } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { say } from '../words/say'

const props = defineProps<{
  codes: S['ProductCode'][]
  may: boolean
  keep: (product: string, item: string, gtin: string) => Promise<void>
}>()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const open = ref('')
const form = reactive({ item: '', gtin: '' })
function change(c: S['ProductCode']) {
  open.value = open.value === c.key ? '' : c.key
  problem.value = undefined
  Object.assign(form, { item: c.item, gtin: c.gtin })
}
const save = (c: S['ProductCode']) =>
  attempt(async () => {
    await props.keep(c.key, form.item.trim(), form.gtin.trim())
    open.value = ''
    const was = { item: c.item, gtin: c.gtin }
    done(say`${c.name} has its number.`, was.item ? () => props.keep(c.key, was.item, was.gtin) : undefined)
  })
const fault = (f: string) => problem.value?.at(f) ?? ''
</script>

<template>
  <details class="numbers">
    <summary>Numbers of products</summary>
    <p class="small">
      A product gets the next free number with its first label. A number of its article (GTIN) adds the code that any
      scanner reads.
    </p>
    <table v-wide>
      <thead>
        <tr>
          <th>Product</th>
          <th>Own number</th>
          <th>Article number</th>
          <th v-if="may"><span class="vh">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="c in codes" :key="c.key">
          <tr>
            <td>
              {{ c.name }} <span class="small">{{ c.species }}</span>
            </td>
            <td>{{ c.item || say('none yet') }}</td>
            <td>{{ c.gtin || '–' }}</td>
            <td v-if="may">
              <PvButton text label="Change" :aria-label="say`Numbers of ${c.name}`" @click="change(c)" />
            </td>
          </tr>
          <tr v-if="open === c.key">
            <td colspan="4">
              <form class="row" novalidate :aria-label="say`Numbers of ${c.name}`" @submit.prevent="save(c)">
                <label
                  >own, five digits
                  <InputText v-model="form.item" inputmode="numeric" :invalid="!!fault('item')" autocomplete="off"
                /></label>
                <label
                  >article
                  <InputText v-model="form.gtin" inputmode="numeric" :invalid="!!fault('gtin')" autocomplete="off"
                /></label>
                <PvButton type="submit" severity="secondary" label="Save" :loading="busy" />
                <span v-if="problem" class="fault" role="alert">{{
                  problem.errors.map((e) => `${e.message}. ${e.hint ?? ''}`).join(' ') || problem.message
                }}</span>
              </form>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
.numbers {
  margin-top: 12px;
}
summary {
  min-height: 44px;
  display: flex;
  align-items: center;
  cursor: pointer;
  font-weight: 650;
}
label {
  display: inline-flex;
  align-items: center;
  gap: 8px;
}
label :deep(input) {
  width: 170px;
}
</style>
