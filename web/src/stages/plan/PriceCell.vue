<script setup lang="ts">
// A price that becomes a field when it is touched. Enter keeps it, Escape leaves it. A guess is marked; Enter on it
// says that it is right.
import { data, PUT, type S } from '../../api/client'
import { useInPlace } from '../../components/useInPlace'
import { useFeedback } from '../../feedback/useFeedback'
import { useShop } from '../../shell/shop'
import { say } from '../../words/say'

const props = defineProps<{
  row: Pick<S['OutputRow'], 'key' | 'name' | 'price' | 'price_per' | 'price_version' | 'guess'>
}>()
const emit = defineEmits<{ priced: [] }>()
const { money } = useShop()
const { done } = useFeedback()

const set = (price: string, version: number) =>
  data(
    PUT('/prices/{product_key}', {
      params: { path: { product_key: props.row.key } },
      body: { price, per: props.row.price_per ?? 'kg', version },
    }),
  )
async function save(price: string) {
  const was = props.row.price
  const version = props.row.price_version ?? 0
  const guessed = !!props.row.guess
  const now = await set(price, version)
  emit('priced')
  done(
    say`${props.row.name}: ${money(now.price ?? '')} for the whole shop.`,
    was === undefined || guessed ? undefined : () => set(was, version + 1).then(() => emit('priced')),
  )
}
const { editing, text, fault, edit, keep, left } = useInPlace({
  field: 'price',
  value: () => props.row.price ?? '',
  toConfirm: () => !!props.row.guess,
  save,
})
</script>

<template>
  <span v-if="editing" class="edit">
    <input
      ref="input"
      v-model="text"
      inputmode="decimal"
      :aria-label="say`Price of ${row.name} per ${row.price_per ?? 'kg'}`"
      :aria-invalid="!!fault"
      @keydown.enter.prevent="keep"
      @keydown.escape="editing = false"
      @blur="left"
    />
    <span v-if="fault" class="fault" role="alert">{{ fault }}</span>
  </span>
  <button
    v-else
    type="button"
    class="price"
    :aria-label="say`Price of ${row.name}, ${row.price ?? say('none')}${row.guess ? say(', a guess') : ''}; change`"
    :title="row.guess && say`A guess: ${money(row.guess.low)} to ${money(row.guess.high)}, four times in five`"
    @click="edit"
  >
    {{ row.guess ? '≈ ' : '' }}{{ row.price ? money(row.price) : '–' }}<span v-if="row.price_per === 'lb'">/lb</span>
  </button>
</template>

<style scoped>
.price {
  border: 0;
  border-bottom: 1px dotted var(--line);
  background: none;
  padding: 0;
  cursor: pointer;
  min-width: 44px;
  line-height: 1.2;
  text-align: right;
}
.edit {
  position: relative;
}
input {
  width: 76px;
  font: inherit;
  text-align: right;
  padding: 3px 4px;
  border: 2px solid var(--act);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
}
.fault {
  position: absolute;
  right: 0;
  top: 100%;
  background: var(--surface);
  border: 1px solid var(--act);
  padding: 4px 6px;
  width: 220px;
  white-space: normal;
  z-index: 3;
  text-align: left;
}
</style>
