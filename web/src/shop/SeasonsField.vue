<script setup lang="ts">
// The seasons of a shop, each from one day of the year to another.
import PvButton from 'primevue/button'
import { say } from '../words/say'

interface Season {
  name: string
  from: string
  to: string
}
const props = defineProps<{ fault: (field: string) => string; own: boolean }>()
const seasons = defineModel<Season[]>({ required: true })
const seasonFault = (i: number) =>
  ['name', 'from', 'to'].map((f) => props.fault(`seasons[${i}].${f}`)).find(Boolean) ?? ''
</script>

<template>
  <div>
    <p class="label">Seasons, for prices and demand</p>
    <div v-for="(s, i) in seasons" :key="i" class="season">
      <input v-model="s.name" maxlength="40" :aria-label="say`Name of season ${i + 1}`" placeholder="name" /> from
      <input v-model="s.from" class="md" :aria-label="say`First day of season ${i + 1}`" placeholder="05-15" /> to
      <input v-model="s.to" class="md" :aria-label="say`Last day of season ${i + 1}`" placeholder="09-15" />
      <PvButton text label="Remove" @click="seasons.splice(i, 1)" />
      <p v-if="seasonFault(i)" class="fault" role="alert">{{ seasonFault(i) }}</p>
    </div>
    <p v-if="fault('seasons')" class="fault" role="alert">
      The seasons {{ fault('seasons').charAt(0).toLowerCase() + fault('seasons').slice(1) }}
    </p>
    <PvButton
      v-if="own && seasons.length < 12"
      text
      label="Add a season"
      @click="seasons.push({ name: '', from: '', to: '' })"
    />
  </div>
</template>

<style scoped>
.season {
  display: flex;
  gap: 8px 14px;
  flex-wrap: wrap;
  align-items: center;
  margin-bottom: 6px;
}
.season input {
  font: inherit;
  min-height: 44px;
  width: 130px;
  padding: 0 8px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
}
.season .md {
  width: 76px;
}
.label {
  margin: 0 0 6px;
}
</style>
