<script setup lang="ts">
// Lets in who is signed in; before that, the ways to come in.
import { computed, defineAsyncComponent, ref, useTemplateRef, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import AppBar from './shell/AppBar.vue'
import UpgradeLine from './shell/UpgradeLine.vue'
import CrumbLine from './shell/CrumbLine.vue'
import ShopGate from './shell/ShopGate.vue'
import StateNote from './components/StateNote.vue'
import { Problem } from './api/problem'
import { layerWanted } from './feedback/layer'
import { useMe } from './shell/me'
import { shown, titleOf } from './shell/title'

const SignInView = defineAsyncComponent(() => import('./entry/SignInView.vue'))
const FeedbackLayer = defineAsyncComponent(() => import('./feedback/FeedbackLayer.vue'))
const ExampleLine = defineAsyncComponent(() => import('./shell/ExampleLine.vue'))
const WhoView = defineAsyncComponent(() => import('./entry/WhoView.vue'))

const route = useRoute()
const { me, error, refetch, changed, inExample } = useMe()
/** On a bench's screen somebody wants to come in as at a desk. */
const desk = ref(false)
const open = computed(() => route.meta.open === true)

// a request that comes back because nobody is signed in any more asks who is there
useQueryClient()
  .getQueryCache()
  .subscribe((e) => {
    if (
      e.type === 'updated' &&
      e.action.type === 'error' &&
      e.action.error instanceof Problem &&
      e.action.error.status === 401
    )
      void refetch()
  })
watch(
  () => me.value?.id,
  (id, was) => {
    if (id) desk.value = false
    if (was && id !== was) void changed()
  },
)

watch(
  () => titleOf(route.meta.title, shown.value),
  (title) => (document.title = title),
  { immediate: true },
)
// who reads by ear or by keys begins at the page that came, unless it has put the focus somewhere itself
const main = useTemplateRef<HTMLElement>('main')
useRouter().afterEach((to, from, failure) => {
  if (failure || to.path === from.path || !from.matched.length) return
  setTimeout(() => {
    const at = document.activeElement
    if (at?.closest('input, textarea, [role=dialog]')) return // somebody types already, in the search or elsewhere
    if (!at || at === document.body || !main.value?.contains(at)) main.value?.focus({ preventScroll: true })
  })
})
</script>

<template>
  <a class="skip" href="#main">To the content</a>
  <AppBar v-if="me?.signed_in && !open" />
  <UpgradeLine />
  <main id="main" ref="main" tabindex="-1">
    <RouterView v-if="open" />
    <StateNote v-else-if="!me" class="page" :error="error" :loading="!error" what="who is here" @retry="refetch()" />
    <WhoView v-else-if="!me.signed_in && me.screen && !desk" @desk="desk = true" />
    <SignInView v-else-if="!me.signed_in" />
    <template v-else>
      <ExampleLine v-if="inExample && !route.meta.bench" />
      <CrumbLine />
      <ShopGate :needed="!route.meta.bench">
        <RouterView v-slot="{ Component, route: r }">
          <component :is="Component" :key="r.matched[0]?.meta.keep ? r.matched[0].path : r.path" />
        </RouterView>
      </ShopGate>
    </template>
  </main>
  <FeedbackLayer v-if="layerWanted && me?.signed_in && !route.meta.bench" />
</template>
