<script setup lang="ts">
/** A sign beside a name that holds a word one must not sell under; what it means is told with it. */
defineProps<{ hint: string | null }>();
</script>

<template>
  <span v-if="hint" class="mark" role="img" :aria-label="hint" :data-tip="hint">§</span>
</template>

<style scoped>
.mark {
  margin-left: 4px;
  color: var(--ochre-text);
  font-family: var(--serif);
  font-weight: 600;
}
</style>
