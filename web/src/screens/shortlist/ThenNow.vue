<script setup lang="ts">
import { computed } from "vue";
import type { FigureRow } from "@/api/client";
import { formatFigure } from "@/format/figure";

/** A figure as it was at the decision and as it is; the same is said once. */
const props = defineProps<{
  figure: FigureRow | undefined;
  then: unknown;
  now: unknown;
  present: boolean;
}>();

const was = computed(() => (props.figure ? formatFigure(props.figure, props.then) : ""));
const is = computed(() => (props.figure ? formatFigure(props.figure, props.now) : ""));
const moved = computed(() => {
  const { then, now, figure } = props;
  if (typeof then !== "number" || typeof now !== "number" || was.value === is.value) return "";
  const better = (figure?.key === "rank" ? -1 : (figure?.direction ?? 0)) * (now - then);
  return better > 0 ? "better" : better < 0 ? "worse" : "";
});
</script>

<template>
  <span class="both">
    <template v-if="!present">{{ was }}</template>
    <template v-else>
      <span v-if="was !== is && then !== undefined" class="was">{{ was }} →</span>
      <span :class="moved">
        <span v-if="moved" aria-hidden="true">{{ moved === "better" ? "▲" : "▼" }}</span>
        <span v-if="moved" class="unseen">{{ moved }}: </span>{{ is }}
      </span>
    </template>
  </span>
</template>

<style scoped>
.both {
  white-space: nowrap;
}

.was {
  color: var(--ink3);
}

.better {
  color: var(--q5);
}

.worse {
  color: var(--rust);
}
</style>
