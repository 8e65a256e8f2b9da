<script setup lang="ts">
// The frame of the pages through which one comes in: what this is on the left, what to do on the right.
defineProps<{ title: string; says?: string }>()
</script>

<template>
  <section class="entry">
    <div class="words">
      <p class="mark">Falda</p>
      <h1>{{ title }}</h1>
      <p v-if="says" class="says">{{ says }}</p>
      <slot name="words" />
    </div>
    <div class="act"><slot /></div>
  </section>
</template>

<style scoped>
.entry {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
  gap: 64px;
  max-width: 1160px;
  margin: 0 auto;
  padding: 72px 28px 48px;
  align-items: start;
}
.words {
  border-top: 4px solid var(--ink);
  padding-top: 16px;
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.mark {
  font-size: 18px;
  font-weight: 800;
  font-stretch: 76%;
}
h1 {
  font-size: 40px;
  line-height: 1.08;
  font-weight: 750;
  font-stretch: 88%;
  text-wrap: balance;
}
.says {
  color: var(--ink-2);
  max-width: 34em;
}
.act {
  display: flex;
  flex-direction: column;
  gap: 14px;
  border-top: 4px solid var(--ink);
  padding-top: 16px;
}
@media (max-width: 900px) {
  .entry {
    grid-template-columns: 1fr;
    gap: 28px;
    padding-top: 28px;
  }
  h1 {
    font-size: 30px;
  }
}
</style>
