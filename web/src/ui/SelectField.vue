<script setup lang="ts" generic="T extends string | number | null">
/** One of several. Its name is said by `label`, which is not shown. */
defineProps<{ label: string; items: { title: string; value: T }[] }>();
const model = defineModel<T>({ required: true });
</script>

<template>
  <v-select
    v-model="model"
    :items="items"
    :aria-label="label"
    :aria-labelledby="undefined"
    class="select"
  />
</template>

<style scoped>
.select {
  display: inline-grid;
  flex: none;
  width: auto;
}
</style>
