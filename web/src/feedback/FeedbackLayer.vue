<script setup lang="ts">
// Where what was done is said, with Undo, and where is asked before what cannot be undone.
import ConfirmDialog from 'primevue/confirmdialog'
import Toast from 'primevue/toast'
import { useToast } from 'primevue/usetoast'
import { onMounted } from 'vue'
import { layerMounted } from './layer'
import type { DoneMessage } from './useFeedback'
import { say } from '../words/say'

const toast = useToast()
onMounted(layerMounted)
function takeBack(message: DoneMessage) {
  toast.removeAllGroups()
  message.undo?.()
}
</script>

<template>
  <Toast position="bottom-center" :close-button-props="{ 'aria-label': say('Close') }" class="done">
    <template #message="{ message }">
      <span class="text" data-test="done">{{ message.summary }}</span>
      <button v-if="message.undo" type="button" class="undo" @click="takeBack(message)">Undo</button>
    </template>
  </Toast>
  <ConfirmDialog :draggable="false" :close-on-escape="true" :style="{ width: 'min(480px, 94vw)' }" />
</template>

<style scoped>
.text {
  flex: 1;
  font-weight: 600;
  align-self: center;
}
.undo {
  min-height: 44px;
  min-width: 80px;
  border: 1px solid var(--ink);
  border-radius: 2px;
  background: var(--surface);
  font-weight: 650;
  cursor: pointer;
}
</style>
