<script setup lang="ts">
// The end of a list that goes on: asks for its next page.
import PvButton from 'primevue/button'
import { say } from '../words/say'

defineProps<{ more: boolean; busy: boolean; label?: string }>()
const emit = defineEmits<{ more: [] }>()
</script>

<template>
  <p v-if="more" class="no-print">
    <PvButton severity="secondary" :label="label ?? say('Show more')" :loading="busy" @click="emit('more')" />
  </p>
</template>
