<script setup lang="ts">
// Files to take away: each is a link that can be copied; touched, it is fetched with its progress, and what goes wrong
// is said here.
import FetchBar from './FetchBar.vue'
import { useDownload } from '../api/useDownload'

defineProps<{ files: { label: string; href: string }[]; lead?: string }>()
const { busy, part, problem, download } = useDownload()
</script>

<template>
  <span class="files no-print"
    ><span v-if="lead">{{ lead }}</span>
    <a
      v-for="f in files"
      :key="f.label"
      :href="f.href"
      download
      :aria-disabled="busy"
      @click.prevent="busy || download(f.href)"
      >{{ f.label }}</a
    >
    <FetchBar v-if="busy" :part="part" label="The file is being fetched" />
    <span v-if="problem" class="fault" role="alert">{{ problem.errors[0]?.message ?? problem.message }}</span>
  </span>
</template>

<style scoped>
.files {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
}
.files a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
</style>
