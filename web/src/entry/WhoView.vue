<script setup lang="ts">
// On a bench's screen: touch your name, type your PIN, go on where the board stands.
import { computed, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import PvButton from 'primevue/button'
import { data, POST, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe, withRole } from '../shell/me'
import EntryFrame from './EntryFrame.vue'
import PinPad from './PinPad.vue'
import { say } from '../words/say'

const emit = defineEmits<{ desk: [] }>()
const router = useRouter()
const { me, changed, signOut } = useMe()
const { busy, problem, attempt } = useAttempt()
const chosen = shallowRef<S['Cutter']>()
const tries = ref(0)
const screen = computed(() => me.value?.screen)
const fault = computed(() => problem.value?.at('pin') || problem.value?.rest(['pin']) || '')

function choose(c?: S['Cutter']) {
  chosen.value = c
  problem.value = undefined
}
const send = (pin: string) =>
  attempt(async () => {
    tries.value++
    await data(POST('/session/pin', { body: { member_id: chosen.value!.id, pin } }))
    await changed()
    if (router.currentRoute.value.name === 'who')
      await (window.history.state?.back ? router.back() : router.push({ name: 'rail' }))
  })
</script>

<template>
  <EntryFrame v-if="screen" :title="say`Who cuts at ${screen.bench}?`" :says="screen.shop">
    <template #words
      ><p v-if="me?.signed_in" class="row">
        <PvButton severity="secondary" label="Leave the bench" :disabled="busy" @click="attempt(signOut)" /><span
          class="small"
          >{{ me.name }} is at it now.</span
        >
      </p>
      <p v-else class="small">
        <button type="button" class="desk" @click="emit('desk')">Come in as at a desk</button>
      </p></template
    >
    <PinPad
      v-if="chosen"
      :key="chosen.id"
      :name="chosen.name"
      :busy="busy"
      :fault="fault"
      @pin="send"
      @back="choose()"
    />
    <template v-else>
      <div class="tiles">
        <button
          v-for="c in screen.cutters"
          :key="c.id"
          type="button"
          class="tile"
          :class="{ now: c.id === me?.id }"
          @click="choose(c)"
        >
          <span class="hook" aria-hidden="true" />{{ withRole(c) }}
        </button>
      </div>
      <p v-if="screen.cutters.length === 0" class="small">
        Nobody has a PIN yet. Everybody sets their own on their page, or an owner does on the people's page.
      </p>
    </template>
  </EntryFrame>
  <EntryFrame v-else title="This screen is at no bench" says="PINs count on enrolled screens only."
    ><RouterLink :to="{ name: 'enrol' }">Enrol it with a code</RouterLink></EntryFrame
  >
</template>

<style scoped>
.desk {
  border: 0;
  background: none;
  padding: 0;
  min-height: 44px;
  color: var(--act);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
}
.tiles {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 18px 14px;
}
.tile {
  position: relative;
  min-height: 92px;
  padding: 16px;
  text-align: left;
  font-size: 20px;
  font-weight: 650;
  line-height: 1.15;
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 2px;
  cursor: pointer;
}
.tile.now {
  border: 2px solid var(--ink);
}
.hook {
  position: absolute;
  top: -19px;
  left: 20px;
  width: 2px;
  height: 19px;
  background: var(--ink);
}
</style>
