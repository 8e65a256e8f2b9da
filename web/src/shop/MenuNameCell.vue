<script setup lang="ts">
// What the shop calls a product, set where the product stands. Enter keeps it, Escape leaves it, nothing takes it away.
import { data, PUT, type S } from '../api/client'
import { useInPlace } from '../components/useInPlace'
import { useFeedback } from '../feedback/useFeedback'
import { say } from '../words/say'

const props = defineProps<{ product: Pick<S['Price'], 'key' | 'name' | 'menu_name'> }>()
const emit = defineEmits<{ named: [] }>()
const { done } = useFeedback()
const menuName = () => props.product.menu_name ?? ''

const set = (was: string, name: string) =>
  data(
    PUT('/prices/{product_key}/name', {
      params: { path: { product_key: props.product.key } },
      body: { was, name },
    }),
  )
async function save(name: string) {
  const was = menuName()
  const now = (await set(was, name)).menu_name ?? ''
  emit('named')
  done(
    now ? say`${props.product.name} is sold as ${now}.` : say`${props.product.name} is sold by that name again.`,
    () => set(now, was).then(() => emit('named')),
  )
}
const { editing, text, fault, edit, keep, left } = useInPlace({ field: 'name', value: menuName, save })
</script>

<template>
  <span v-if="editing" class="edit"
    ><input
      ref="input"
      v-model="text"
      maxlength="60"
      autocomplete="off"
      :aria-label="say`What you call ${product.name}`"
      :aria-invalid="!!fault"
      @keydown.enter.prevent="keep"
      @keydown.escape="editing = false"
      @blur="left"
    /><span v-if="fault" class="fault" role="alert">{{ fault }}</span></span
  >
  <button
    v-else
    type="button"
    class="name small"
    :aria-label="say`What you call ${product.name}; change`"
    @click="edit"
  >
    {{ product.menu_name ? say`sold as ${product.menu_name}` : say('name it') }}
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
