<script setup lang="ts" generic="T, V extends string | number | undefined">
// One of several: typed to find where there are many. What it picks from are any things, each with what it is known by
// and what it is called, at a path such as "plan.id".
import { computed } from 'vue'
import Select from 'primevue/select'

const props = withDefaults(
  defineProps<{
    options: readonly T[] | undefined
    /** Path to what is picked. */
    by?: string
    /** Path to what it is called, or the words of it. */
    called?: string | ((o: T) => string)
    /** What stands for none of them, as the first choice; picks ''. */
    none?: string
    id?: string
    label?: string
    disabled?: boolean
    invalid?: boolean
  }>(),
  { by: 'id', called: 'name', none: undefined, id: undefined, label: undefined },
)
const value = defineModel<V>({ required: true })
/** None of them is '' outside, which the control would take for nothing at all. */
const NONE = '(none)'
const inner = computed({
  get: () => (value.value === '' && props.none !== undefined ? NONE : value.value),
  set: (v) => (value.value = (v === NONE ? '' : v) as V),
})

const at = (o: unknown, path: string) =>
  path.split('.').reduce<unknown>((x, key) => (x as Record<string, unknown> | undefined)?.[key], o)
const wordsOf = (o: T) => {
  if (typeof props.called === 'function') return props.called(o)
  return String(typeof o === 'object' ? (at(o, props.called) ?? '') : o)
}
const list = computed(() => [
  ...(props.none === undefined ? [] : [{ id: NONE, name: props.none }]),
  ...(props.options ?? []).map((o) => ({ id: typeof o === 'object' ? at(o, props.by) : o, name: wordsOf(o) })),
])
const many = 12
</script>

<template>
  <Select
    v-model="inner"
    class="pick-one"
    :options="list"
    option-value="id"
    option-label="name"
    :filter="list.length > many"
    auto-filter-focus
    :label-id="id"
    :aria-label="label"
    :aria-labelledby="!label && id ? `${id}-label` : undefined"
    :disabled="disabled"
    :invalid="invalid"
    reset-filter-on-hide
    empty-filter-message="Nothing is called so"
    scroll-height="min(50vh, 400px)"
  >
    <template #option="{ option }"
      ><span :data-value="option.id">{{ option.name }}</span></template
    >
  </Select>
</template>
