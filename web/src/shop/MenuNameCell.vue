<script setup lang="ts">
// What the shop calls a product, set where the product stands. Enter keeps it, Escape leaves it, nothing takes it away.
import { nextTick, ref, shallowRef, useTemplateRef } from 'vue'
import { data, PUT, type S } from '../api/client'
import { asProblem } from '../api/problem'
import { useFeedback } from '../feedback/useFeedback'

const props = defineProps<{ product: Pick<S['Price'], 'key' | 'name' | 'menu_name'> }>()
const emit = defineEmits<{ named: [] }>()
const { done } = useFeedback()
const editing = ref(false)
const text = ref('')
const fault = shallowRef('')
const input = useTemplateRef<HTMLInputElement>('input')

async function edit() {
  text.value = props.product.menu_name ?? ''
  fault.value = ''
  editing.value = true
  await nextTick()
  input.value?.select()
}
const set = (was: string, name: string) =>
  data(
    PUT('/prices/{product_key}/name', {
      params: { path: { product_key: props.product.key } },
      body: { was, name },
    }),
  )
async function keep() {
  if (!editing.value) return
  const was = props.product.menu_name ?? ''
  if (text.value.trim() === was) {
    editing.value = false
    return
  }
  try {
    const now = (await set(was, text.value)).menu_name ?? ''
    editing.value = false
    emit('named')
    done(now ? `${props.product.name} is sold as ${now}.` : `${props.product.name} is sold by that name again.`, () =>
      set(now, was).then(() => emit('named')),
    )
  } catch (e) {
    const p = asProblem(e)
    fault.value = p.at('name') || p.message
  }
}
</script>

<template>
  <span v-if="editing" class="edit"
    ><input
      ref="input"
      v-model="text"
      maxlength="60"
      autocomplete="off"
      :aria-label="`What you call ${product.name}`"
      :aria-invalid="!!fault"
      @keydown.enter.prevent="keep"
      @keydown.escape="editing = false"
      @blur="keep"
    /><span v-if="fault" class="fault" role="alert">{{ fault }}</span></span
  >
  <button v-else type="button" class="name small" :aria-label="`What you call ${product.name}; change`" @click="edit">
    {{ product.menu_name ? `sold as ${product.menu_name}` : 'name it' }}
  </button>
</template>

<style scoped>
.edit {
  display: block;
}
input {
  font: inherit;
  width: min(260px, 100%);
  padding: 3px 6px;
  border: 2px solid var(--act);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
}
.name {
  margin-left: 10px;
  border: 0;
  background: none;
  padding: 0;
  min-height: 24px;
  color: var(--ink-2);
  text-decoration: underline dotted var(--line);
  cursor: pointer;
  text-align: left;
}
</style>
