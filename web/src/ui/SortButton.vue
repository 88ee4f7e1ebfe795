<script setup lang="ts">
/** A heading that sorts by its column, with the way it does. */
defineProps<{ head: string; order: "ascending" | "descending" | undefined }>();
defineEmits<{ sort: [] }>();
</script>

<template>
  <v-btn variant="plain" class="sort" @click="$emit('sort')">
    {{ head
    }}<span v-if="order" aria-hidden="true">{{ order === "descending" ? " ↓" : " ↑" }}</span>
  </v-btn>
</template>

<style scoped>
.sort {
  padding: 0;
  font: inherit;
}
</style>
