<script setup lang="ts">
defineProps<{ title: string; text: string; retry?: boolean }>();
defineEmits<{ retry: [] }>();
</script>

<template>
  <section class="empty">
    <h1 class="serif">{{ title }}</h1>
    <p>{{ text }}</p>
    <slot />
    <v-btn v-if="retry" @click="$emit('retry')">Try again</v-btn>
  </section>
</template>

<style scoped>
.empty {
  flex: 1;
  padding: 48px var(--gutter);
  max-width: 62ch;
  margin: 0 auto;
  width: 100%;
  box-sizing: border-box;
}

h1 {
  font-size: 24px;
  margin: 0 0 8px;
}

:deep(pre) {
  background: var(--page);
  border: 1px solid var(--rule);
  padding: 10px 12px;
  overflow-x: auto;
}
</style>
