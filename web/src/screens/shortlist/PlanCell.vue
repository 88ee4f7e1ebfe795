<script setup lang="ts">
import { formatRound } from "@/format/money";
import { formatShare, formatShortDay } from "@/format/values";
import type { PlannedOrder } from "./plannedOrders";

/** A plan in two lines: its next date, what it binds, and its chance of a loss. */
defineProps<{
  planned: PlannedOrder | undefined;
  to: { path: string; query: Record<string, string | undefined> };
}>();
</script>

<template>
  <RouterLink v-if="!planned" :to="to" class="none" @click.stop>plan an order</RouterLink>
  <template v-else>
    <RouterLink :to="to" @click.stop
      >{{ planned.what }} {{ formatShortDay(planned.day)
      }}{{ planned.others ? ` · ${planned.others + 1} plans` : "" }}</RouterLink
    >
    <span
      >binds {{ formatRound(Math.round(-planned.lowest)) }} · loss
      {{ planned.loss < 0.01 ? "<1%" : formatShare(planned.loss) }}</span
    >
  </template>
</template>

<style scoped>
a,
span {
  display: block;
  overflow: hidden;
  line-height: 17px;
  text-overflow: ellipsis;
}

a {
  color: var(--q5);
}
</style>
