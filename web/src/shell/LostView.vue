<template>
  <section class="page stack">
    <h1>There is nothing at this address</h1>
    <p>All pieces hang on the <RouterLink :to="{ name: 'rail' }">rail</RouterLink>; open them from there.</p>
  </section>
</template>
