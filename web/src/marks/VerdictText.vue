<script setup lang="ts">
import { computed } from "vue";
import type { NichePreview } from "@/api/client";
import StrongText from "./StrongText.vue";

const props = defineProps<{ niche: NichePreview }>();

/** The verdict as one paragraph, and the date to act by as another. */
const paragraphs = computed(() => {
  const { figures, call, verdict } = props.niche;
  const end = verdict.length - (figures.shape_family === "seasonal" && call ? 1 : 0);
  return [
    { text: verdict.slice(0, end).join(" "), dated: false },
    ...verdict.slice(end).map((text) => ({ text, dated: true })),
  ];
});
</script>

<template>
  <p v-for="{ text, dated } in paragraphs" :key="text" class="verdict" :class="{ dated }">
    <StrongText :text="text" />
  </p>
</template>

<style scoped>
.verdict {
  margin: 0 0 2px;
}

.dated,
.dated :deep(b) {
  color: var(--ochre-text);
}
</style>
