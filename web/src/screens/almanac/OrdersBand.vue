<script setup lang="ts">
import { computed } from "vue";
import type { Orders } from "@/api/orders";
import { formatMoney } from "@/format/money";
import { formatDay } from "@/format/values";
import type { Axis } from "@/screens/parts/calendarAxis";
import CashLane from "@/screens/parts/orders/CashLane.vue";
import OrderLane from "@/screens/parts/orders/OrderLane.vue";

/** What is ordered or proposed, and the cash it binds, on the almanac's own axis. */
const props = defineProps<{
  orders: Orders;
  axis: Axis;
  /** The screen on which all orders stand. */
  to: { path: string; query: Record<string, string> };
}>();

/** Lanes that stand over one another; more are counted. */
const MOST = 4;
const taken = computed(() =>
  props.orders.plans
    .filter((one) => one.taken && one.summary)
    .sort((a, b) => (a.summary?.ordered ?? "").localeCompare(b.summary?.ordered ?? "")),
);
const shown = computed(() => taken.value.slice(0, MOST));
const more = computed(() => taken.value.length - shown.value.length);
const lowest = computed(() => props.orders.cash.lowest);
</script>

<template>
  <section class="band" aria-label="Planned orders and the cash they bind">
    <div v-for="one in shown" :key="one.key" class="line">
      <span class="name small" :data-tip="`${one.niche}: ${one.name}`"
        >{{ one.placed ? "ordered" : "proposed" }} · {{ one.niche }}</span
      >
      <OrderLane v-if="one.summary" :summary="one.summary" :axis="axis" taken />
    </div>
    <div class="line cash">
      <div class="name small">
        <RouterLink :to="to"
          >{{ orders.plans.length === 1 ? "1 plan" : `${orders.plans.length} plans`
          }}{{ more > 0 ? `, ${more} more taken` : "" }}</RouterLink
        >
        <span v-if="orders.cash_at_hand === null">change of the cash</span>
        <span v-else>cash, {{ formatMoney(orders.cash_at_hand) }} at hand</span>
        <span
          :data-tip="`In the week of ${formatDay(orders.cash.lowest_week)} the low band is at its lowest.`"
          >lowest {{ formatMoney(lowest[1]) }}, one in ten {{ formatMoney(lowest[0]) }}</span
        >
      </div>
      <CashLane :orders="orders" :axis="axis" />
    </div>
  </section>
</template>

<style scoped>
/* It stays in sight under the rows. */
.band {
  position: sticky;
  bottom: 0;
  z-index: 2;
  padding: 3px 0;
  border-top: 1px solid var(--ink3);
  background: var(--paper);
}

.line {
  display: grid;
  grid-template-columns: var(--names) minmax(0, 1fr);
  align-items: center;
}

.line > :last-child {
  min-width: 0;
}

.name {
  overflow: hidden;
  padding: 0 44px 0 var(--gutter);
  text-overflow: ellipsis;
  white-space: nowrap;
}

.name > * {
  display: block;
  overflow: hidden;
  line-height: 16px;
  text-overflow: ellipsis;
}

a {
  color: var(--q5);
}

.cash {
  height: 62px;
  padding: 4px 0 2px;
}

@media print {
  .band {
    position: static;
  }
}
</style>
