<script setup lang="ts">
// What was found when the bag was opened; a tick shows at once what to do.
import Checkbox from 'primevue/checkbox'
import type { S } from '../../api/client'

defineProps<{ points: S['Inspect'][] }>()
const found = defineModel<string[]>({ required: true })
</script>

<template>
  <fieldset>
    <legend class="label">Look, smell, feel: tick what you find</legend>
    <div v-for="p in points" :key="p.id" class="point">
      <Checkbox v-model="found" :input-id="`find-${p.id}`" :value="p.id" />
      <label :for="`find-${p.id}`">{{ p.look }}<span v-if="found.includes(p.id)" class="do">{{ p.do }}</span></label>
    </div>
  </fieldset>
</template>

<style scoped>
fieldset { border: 0; padding: 0; margin: 0; min-width: 0; }
legend { padding: 0 0 4px; }
.point { display: flex; gap: 10px; align-items: flex-start; padding: 5px 0; border-top: 1px solid var(--hairline); min-height: 36px; }
label { cursor: pointer; font-size: 13px; padding-top: 2px; }
.do { display: block; color: var(--act); font-weight: 600; }
</style>
