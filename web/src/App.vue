<script setup lang="ts">
import AppBar from './shell/AppBar.vue'
</script>

<template>
  <a class="vh" href="#main">To the content</a>
  <AppBar />
  <main id="main">
    <RouterView v-slot="{ Component, route }">
      <component :is="Component" :key="route.path" />
    </RouterView>
  </main>
</template>
