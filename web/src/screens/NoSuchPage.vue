<template>
  <section class="page">
    <h1 class="serif">There is no such page</h1>
    <p>The address may be mistyped. <RouterLink to="/">Go to the Field</RouterLink></p>
  </section>
</template>

<style scoped>
.page {
  padding: 40px var(--gutter);
}
</style>
