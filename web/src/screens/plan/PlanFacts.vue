<script setup lang="ts">
import { computed } from "vue";
import type { MadePlan } from "@/api/plans";
import { formatMoney } from "@/format/money";
import { formatDay, formatShare } from "@/format/values";

/** The dates of a plan and what it does to the money, at a glance. */
const props = defineProps<{ plan: MadePlan }>();

/** How many days on which to order again are named. */
const NAMED = 3;
const bound = computed(() => {
  const share = props.plan.cash.budget_share;
  return share === null ? "" : `${formatShare(share)} of your cash`;
});
const again = computed(() => props.plan.dates.reorders.slice(0, NAMED).map(formatDay).join(", "));
</script>

<template>
  <dl class="facts">
    <div>
      <dt>on sale</dt>
      <dd>{{ plan.dates.on_sale.map(formatDay).join(", ") }}</dd>
    </div>
    <div v-if="plan.dates.order_by">
      <dt>order by, for all of the season</dt>
      <dd>{{ formatDay(plan.dates.order_by) }}</dd>
    </div>
    <div>
      <dt>sold for until</dt>
      <dd>{{ formatDay(plan.dates.until) }}</dd>
    </div>
    <div>
      <dt>chance of a loss</dt>
      <dd>{{ plan.cash.loss < 0.01 ? "under 1%" : formatShare(plan.cash.loss) }}</dd>
    </div>
    <div>
      <dt>lowest balance</dt>
      <dd>
        {{ formatMoney(plan.cash.lowest[1]) }} <span class="small">{{ bound }}</span>
      </dd>
    </div>
    <div>
      <dt>money back</dt>
      <dd>{{ plan.cash.back[1] ? formatDay(plan.cash.back[1]) : "not in this time" }}</dd>
    </div>
    <div v-if="plan.cash.rate !== null">
      <dt v-explain="'internal-rate'">internal rate, a year</dt>
      <dd>{{ formatShare(plan.cash.rate) }}</dd>
    </div>
    <div v-if="again">
      <dt>order again</dt>
      <dd>{{ again }}</dd>
    </div>
  </dl>
</template>

<style scoped>
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 28px;
  margin: 0 0 10px;
}

dt {
  font: 11px/1.3 var(--condensed);
  color: var(--ink3);
}

dd {
  margin: 0;
  font-weight: 600;
}

dd .small {
  font-weight: 400;
}
</style>
