<script setup lang="ts">
// Who looks at this screen, and how it shows weights and light.
import { computed, defineAsyncComponent } from 'vue'
import PvButton from 'primevue/button'
import UnitToggle from '../components/UnitToggle.vue'
import { useAttempt } from '../api/useAttempt'
import { chooseLanguage, chosenLanguage, languageName, languages } from '../words/language'
import { scheme, unitChoice } from './preferences'
import { roleName, useMe } from './me'
import { useShop } from './shop'
import { say } from '../words/say'

const PickOne = defineAsyncComponent(() => import('../components/PickOne.vue'))
const { me, onBench, signOut } = useMe()
const { unit, shop } = useShop()
const { busy, attempt } = useAttempt()
const shownUnit = computed<string>({ get: () => unit.value, set: (u) => (unitChoice.value = u as 'kg' | 'lb') })
const light = computed<string>({
  get: () => scheme.value || 'system',
  set: (s) => (scheme.value = s === 'system' ? '' : (s as 'light' | 'dark')),
})
const spoken = languages.map((id) => ({ id, name: languageName(id) }))
const chosen = computed<string>({ get: chosenLanguage, set: chooseLanguage })
const role = computed(() => roleName(me.value?.role ?? ''))
</script>

<template>
  <div class="you">
    <p>
      <strong>{{ me?.name }}</strong><span v-if="role !== me?.name" class="small"> · {{ role }}</span
      ><br /><span class="small">{{ shop?.name }}</span>
    </p>
    <div>
      <span class="label">Weights in</span>
      <UnitToggle v-model="shownUnit" :options="['kg', 'lb']" label="Weights in" />
    </div>
    <div>
      <span class="label">Light</span>
      <UnitToggle
        v-model="light"
        :options="['system', 'light', 'dark']"
        :names="{ system: say('System'), light: say('Day'), dark: say('Night') }"
        label="Light"
      />
    </div>
    <div v-if="languages.length > 1" data-test="language">
      <span class="label">Language</span>
      <PickOne v-model="chosen" label="Language" :options="spoken" none="The browser’s" />
    </div>
    <RouterLink v-if="onBench" :to="{ name: 'who' }" class="go">Change who cuts</RouterLink>
    <RouterLink v-else :to="{ name: 'me' }" class="go">Your page: PIN, password, sign-ins</RouterLink>
    <p v-if="me?.build" class="small">Falda {{ me.build }}</p>
    <PvButton v-if="!onBench" severity="secondary" label="Sign out" :disabled="busy" @click="attempt(signOut)" />
  </div>
</template>

<style scoped>
.you {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 12px;
  padding: 8px 12px 12px;
}
.label {
  display: block;
  margin-bottom: 2px;
}
.go {
  display: flex;
  align-items: center;
  min-height: 44px;
}
</style>
