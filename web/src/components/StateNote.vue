<script setup lang="ts">
// Loading, failed or empty: one place that says so, and what to do.
import { computed } from 'vue'
import PvButton from 'primevue/button'
import { asProblem } from '../api/problem'

const props = defineProps<{ error?: unknown; loading?: boolean; what: string }>()
const emit = defineEmits<{ retry: [] }>()
const problem = computed(() => (props.error ? asProblem(props.error) : undefined))
</script>

<template>
  <div v-if="problem" class="note" role="alert">
    <h2>{{ problem.title }}</h2>
    <p>{{ problem.message }}</p>
    <RouterLink v-if="problem.status === 404" :to="{ name: 'rail' }">To the rail</RouterLink>
    <PvButton v-else severity="secondary" label="Try again" @click="emit('retry')" />
  </div>
  <p v-else-if="loading" class="note small" role="status">Loading {{ what }}…</p>
</template>

<style scoped>
.note {
  padding: 24px 0;
}
.note > * + * {
  margin-top: 12px;
}
</style>
