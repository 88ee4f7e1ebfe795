<script setup lang="ts">
import { computed } from "vue";
import type { SubjectPreview } from "@/api/client";
import PlannedFrom from "./PlannedFrom.vue";
import StrongText from "./StrongText.vue";

/** brief: where there is little room, the calendar, then the next date, then the rest. */
const props = defineProps<{
  subject: Pick<SubjectPreview, "verdict" | "dates"> & {
    figures: Pick<SubjectPreview["figures"], "planning_date">;
  };
  brief?: boolean;
}>();

/** The verdict as one paragraph, and when to order as another. */
const paragraphs = computed(() => {
  const { dates, verdict } = props.subject;
  const rest = verdict.slice(0, verdict.length - dates.length);
  if (props.brief)
    return [rest.slice(0, 1), dates.slice(0, 1), rest.slice(1)]
      .map((some, i) => ({ text: some.join(" "), dated: i === 1 }))
      .filter(({ text }) => text);
  return [
    { text: rest.join(" "), dated: false },
    ...(dates.length ? [{ text: dates.join(" "), dated: true }] : []),
  ];
});
</script>

<template>
  <p v-for="{ text, dated } in paragraphs" :key="text" class="verdict" :class="{ dated }">
    <StrongText :text="text" />
    <PlannedFrom v-if="dated" class="ago" :day="subject.figures.planning_date" :brief="brief" />
  </p>
</template>

<style scoped>
.verdict {
  margin: 0 0 2px;
}

.ago {
  margin-left: 4px;
}

.dated,
.dated :deep(b) {
  color: var(--ochre-text);
}
</style>
