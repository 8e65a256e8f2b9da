<script setup lang="ts">
// A link that leads no other device here says so, and where that is mended.
import { useMe } from '../shell/me'
import { useOutside } from '../shell/outside'

const { onlyHere } = useOutside()
const { may } = useMe()
</script>

<template>
  <p v-if="onlyHere" class="small" data-test="only-here">
    This opens on this machine only.
    <template v-if="may('PUT /shop')"
      >Say by which address a phone reaches it under
      <RouterLink :to="{ name: 'settings' }">Settings</RouterLink>.</template
    ><template v-else>The owner says by which address a phone reaches it.</template>
  </p>
</template>
