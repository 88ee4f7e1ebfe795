<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import { formatCount, UNKNOWN } from "@/format/values";

type UnitEconomics = NonNullable<Schemas["Profitability"]["paying"]>;

/** What a unit costs and leaves, a step a cost; each opens its working. */
const props = defineProps<{ paying: UnitEconomics }>();

const money = (value: number | null | undefined): string =>
  value === null || value === undefined ? UNKNOWN : value.toFixed(2).replace("-", "−");
const percent = (value: number | null | undefined): string =>
  value === null || value === undefined
    ? UNKNOWN
    : `${(value * 100).toFixed(1).replace("-", "−")}%`;

/** From the price down to what is left, a step a cost, at the price and at the year's lowest. */
const steps = computed(() => {
  const { result, lowest, costs, lowest_price } = props.paying;
  const row = (key: string, head: string, of: (r: typeof result) => number, sign = -1) => ({
    key,
    head,
    now: money(sign * of(result)),
    then: lowest ? money(sign * of(lowest)) : UNKNOWN,
  });
  return [
    { key: "price", head: "price", now: money(costs.price), then: money(lowest_price) },
    row("landed", "landed cost", (r) => r.landed),
    { key: "handling", head: `handling${result.size_class ? `, class ${result.size_class}` : ""}`, now: money(-result.handling), then: lowest ? money(-lowest.handling) : UNKNOWN },
    row("commission", "commission", (r) => r.commission),
    row("advertising", "advertising", (r) => r.advertising),
    row("left", "left", (r) => r.left, 1),
    { key: "margin", head: "margin", now: percent(result.margin), then: percent(lowest?.margin) },
    { key: "roi", head: "return on landed cost", now: percent(result.roi), then: percent(lowest?.roi) },
    row("lost_to_returns", "returns take of it", (r) => r.lost_to_returns),
    { key: "break_even", head: "break-even price", now: money(result.break_even), then: "" },
    { key: "most", head: "most it may cost landed", now: money(result.most), then: lowest ? money(lowest.most) : UNKNOWN },
  ];
}); // prettier-ignore

/** The line whose working is open. */
const open = ref("");
const workingOf = (key: string) => props.paying.workings.find((one) => one.key === key);
</script>

<template>
  <v-table class="wide-table">
    <caption class="small">
      Per unit
    </caption>
    <thead>
      <tr>
        <td />
        <th scope="col">at the price</th>
        <th scope="col">at the year’s lowest</th>
      </tr>
    </thead>
    <tbody>
      <template v-for="step in steps" :key="step.key">
        <tr :class="{ left: step.key === 'left' }">
          <th scope="row">{{ step.head }}</th>
          <td>
            <v-btn
              v-if="workingOf(step.key)"
              variant="plain"
              class="number-button"
              :aria-expanded="open === step.key"
              :data-tip="workingOf(step.key)?.formula"
              @click="open = open === step.key ? '' : step.key"
            >
              {{ step.now }}
            </v-btn>
            <template v-else>{{ step.now }}</template>
          </td>
          <td>{{ step.then }}</td>
        </tr>
        <tr v-if="open === step.key">
          <td colspan="3" class="working">
            {{ step.head }} = {{ workingOf(step.key)?.formula }}<br />
            = {{ workingOf(step.key)?.numbers }}
          </td>
        </tr>
      </template>
      <tr>
        <th scope="row">left of a year of the typical listing</th>
        <td>{{ formatCount(paying.typical_left) }}</td>
        <td />
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
th,
td {
  text-align: right;
  padding: 3px 0 3px 14px;
}

tr > :first-child {
  text-align: left;
  padding-left: 0;
}

.left > * {
  font-weight: 600;
  border-top: 1px solid var(--ink);
}

.working {
  text-align: left;
  padding: 4px 0 8px 14px;
  color: var(--ink2);
}
</style>
