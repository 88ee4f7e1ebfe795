<script setup lang="ts">
import { computed } from "vue";
import type { LedgerRow } from "@/api/client";
import { formatChange, formatInterval, UNKNOWN } from "@/format/values";

const props = defineProps<{
  row: Pick<LedgerRow, "drift" | "drift_rate_year" | "drift_low" | "drift_high">;
}>();

const MARKS: Record<string, string> = {
  Rising: "▲",
  Easing: "▼",
  Holding: "≈",
  "Stepped up": "↥",
  "Stepped down": "↧",
};
const mark = computed(() => (props.row.drift ? MARKS[props.row.drift] : ""));
const change = computed(() => formatChange(props.row.drift_rate_year));
/** The word says it already, and takes the room of the mark. */
const level = computed(() => change.value === "unchanged");
const tone = computed(() =>
  props.row.drift === "Rising" || props.row.drift === "Stepped up"
    ? "rises"
    : props.row.drift === "Easing" || props.row.drift === "Stepped down"
      ? "falls"
      : "",
);
</script>

<template>
  <span v-if="row.drift" class="drift" :data-tip="row.drift">
    <span :class="tone"
      ><template v-if="!level"
        ><span aria-hidden="true">{{ mark }}</span
        >{{ " " }}</template
      ><span class="unseen">{{ row.drift }} </span>{{ change }}</span
    >
    <span class="small">{{ formatInterval(row.drift_low, row.drift_high) }}</span>
  </span>
  <span v-else class="small">{{ UNKNOWN }}</span>
</template>

<style scoped>
.drift {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  line-height: 1.1;
  max-width: 100%;
}

.drift .small {
  max-width: 100%;
  overflow: clip visible;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.rises {
  color: var(--q5);
}

.falls {
  color: var(--rust);
}
</style>
