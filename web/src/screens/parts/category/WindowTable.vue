<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatMoney } from "@/format/money";
import { formatChange, formatCount, formatInterval } from "@/format/values";

/** The last weeks: what was searched and sold, and the change of searches with its season part beside it. */
const props = defineProps<{ windows: Schemas["CategoryWindow"][] }>();

const COLUMNS = ["searches", "impressions", "clicks", "purchases", "units"] as const;
const shown = computed(() =>
  COLUMNS.filter((key) => props.windows.some((one) => one[key] !== null)),
);
const revenue = computed(() => props.windows.some((one) => one.revenue !== null));
</script>

<template>
  <div class="scroll">
    <table>
      <caption class="unseen">
        The last weeks against as many before
      </caption>
      <thead>
        <tr>
          <th scope="col">last</th>
          <th v-for="key in shown" :key="key" scope="col">{{ key }}</th>
          <th v-if="revenue" scope="col">revenue</th>
          <th v-explain="'growth-split'" scope="col">searches, change</th>
          <th scope="col">season</th>
          <th scope="col">drift</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in windows" :key="one.weeks">
          <th scope="row">{{ one.weeks }} wk</th>
          <td v-for="key in shown" :key="key">{{ formatCount(one[key]) }}</td>
          <td v-if="revenue">{{ formatMoney(one.revenue) }}</td>
          <td>{{ formatChange(one.raw) }}</td>
          <td class="season">{{ formatChange(one.season) }}</td>
          <td>
            <template v-if="one.low === null && one.drift !== null"
              ><span class="small" data-tip="Too short for an interval, and so for a drift"
                >not told</span
              ></template
            >
            <template v-else>{{ formatChange(one.drift) }}</template>
            <span v-if="one.low !== null" class="small within">{{
              formatInterval(one.low, one.high)
            }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}

table {
  border-collapse: collapse;
}

th,
td {
  padding: 2px 10px 2px 0;
  border-bottom: 1px solid var(--rule);
  font-weight: 400;
  text-align: right;
  white-space: nowrap;
}

thead th {
  font: 11px/1.2 var(--condensed);
  color: var(--ink2);
}

th:first-child {
  text-align: left;
}

.within {
  margin-left: 5px;
}

.season {
  color: var(--ink3);
}
</style>
