<script setup lang="ts">
import { computed } from "vue";
import type { LedgerRow } from "@/api/client";
import { actOn, pastMark } from "@/format/seasons";
import { formatDay, formatShare, formatShortDay, UNKNOWN } from "@/format/values";

/** The season to act on: when to order for all of it, or how much of it is still met and until when half is. */
const props = defineProps<{ row: LedgerRow }>();

const act = computed(() => actOn(props.row));
const early = computed(() => act.value?.head === "Order by");
/** Whether the day to act by lies behind, on the machine's own calendar. */
const past = computed(() =>
  Boolean(pastMark((early.value ? props.row.act_order_by : props.row.act_open_until) ?? "9999")),
);
const tip = computed(() => {
  const { act_order_by: by, act_open_until: until, act_caught: caught } = props.row;
  if (by === null || until === null) return "No season to order for";
  return early.value
    ? `Order by ${formatDay(by)} for the full season; half of it is met until ${formatDay(until)}`
    : `Ordering on the planning date meets ${formatShare(caught)} of the season; half of it until ` +
        `${formatDay(until)}. Too late for the full season since ${formatDay(by)}`;
});
</script>

<template>
  <span v-if="act && row.act_order_by" class="act" :data-tip="tip">
    <span v-if="early">{{ formatDay(row.act_order_by) }}</span>
    <span v-else class="late">{{ act.figure }} caught</span>
    <span class="small" :class="{ past }">{{
      early
        ? past
          ? "order by, past"
          : "order by"
        : `until ${formatShortDay(row.act_open_until ?? "")}${past ? ", past" : ""}`
    }}</span>
  </span>
  <span v-else class="small">{{ UNKNOWN }}</span>
</template>

<style scoped>
.act {
  display: flex;
  flex-direction: column;
  line-height: 1.1;
  white-space: nowrap;
}

.past {
  color: var(--rust);
}

.late {
  color: var(--ochre-text);
}
</style>
