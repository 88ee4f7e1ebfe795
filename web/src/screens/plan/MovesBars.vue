<script setup lang="ts">
import { computed } from "vue";
import type { MadePlan } from "@/api/plans";
import { formatMoney } from "@/format/money";
import { formatShare } from "@/format/values";

/** What moves the result most, and what comes of the same order if things turn out otherwise. */
const props = defineProps<{ plan: MadePlan }>();
const rows = computed(() => [
  ...props.plan.turns.map((one) => ({
    name: one.name,
    worse: one.change,
    better: 0,
    loss: one.loss as number | null,
  })),
  ...props.plan.sensitivity.map((one) => ({ ...one, loss: null as number | null })),
]);
const reach = computed(() =>
  Math.max(0.01, ...rows.value.flatMap((one) => [Math.abs(one.worse), Math.abs(one.better)])),
);
/** A bar from the middle outwards, in percent of half the width. */
const bar = (value: number) => {
  const width = (Math.abs(value) / reach.value) * 50;
  return { left: `${value < 0 ? 50 - width : 50}%`, width: `${width}%` };
};
const signed = (value: number): string =>
  value > 0 ? `+${formatMoney(value)}` : formatMoney(value);
</script>

<template>
  <table class="moves">
    <caption class="unseen">
      What moves the result most
    </caption>
    <tbody>
      <tr v-for="row in rows" :key="row.name">
        <th scope="row">{{ row.name }}</th>
        <td class="bar" aria-hidden="true">
          <i :class="{ loss: row.worse < 0 }" :style="bar(row.worse)" />
          <i v-if="row.better" :class="{ loss: row.better < 0 }" :style="bar(row.better)" />
          <b />
        </td>
        <td class="amount">
          {{ signed(row.worse) }}<template v-if="row.better"> · {{ signed(row.better) }}</template>
        </td>
        <td class="small">
          {{ row.loss === null ? "" : `loss ${row.loss < 0.01 ? "<1%" : formatShare(row.loss)}` }}
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.moves {
  width: 100%;
  border-collapse: collapse;
}

th {
  width: 166px;
  padding: 2px 8px 2px 0;
  font-weight: 400;
  text-align: left;
}

.bar {
  position: relative;
  min-width: 60px;
}

.bar i {
  position: absolute;
  top: 4px;
  bottom: 4px;
  min-width: 1px;
  background: var(--q5);
}

.bar i.loss {
  background: var(--rust);
}

.bar b {
  position: absolute;
  top: 0;
  bottom: 0;
  left: 50%;
  border-left: 1px solid var(--ink);
}

.amount {
  width: 112px;
  text-align: right;
  white-space: nowrap;
}

td.small {
  width: 58px;
  padding-left: 8px;
  white-space: nowrap;
}
</style>
