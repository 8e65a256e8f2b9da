<script setup lang="ts">
// What one can do on this page, in a few lines.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import Dialog from 'primevue/dialog'
import { help } from './help'
import { say } from '../words/say'

const emit = defineEmits<{ close: [] }>()
const route = useRoute()
const lines = computed(() => help[String(route.name ?? '')] ?? [])
const visible = computed({ get: () => true, set: () => emit('close') })
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    dismissable-mask
    :draggable="false"
    :header="say`Help: ${route.meta.title ?? ''}`"
    :style="{ width: 'min(620px, 94vw)' }"
    :close-button-props="{ 'aria-label': say('Close'), severity: 'secondary' }"
    data-test="help"
  >
    <ul>
      <li v-for="l in lines" :key="l">{{ l }}</li>
    </ul>
    <p class="small keys"><kbd>/</kbd> finds anything · <kbd>?</kbd> this help · <kbd>Esc</kbd> closes it</p>
  </Dialog>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 20px;
}
li {
  margin: 6px 0;
}
.keys {
  margin-top: 14px;
}
</style>
