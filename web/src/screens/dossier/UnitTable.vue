<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import { formatMoney } from "@/format/money";
import { UNKNOWN } from "@/format/values";

type UnitEconomics = NonNullable<Schemas["Profitability"]["paying"]>;

/** What a unit costs and leaves, a step a cost; each opens its working. */
const props = defineProps<{ paying: UnitEconomics }>();

const money = (value: number | null | undefined): string => formatMoney(value, true);
const percent = (value: number | null | undefined): string =>
  value === null || value === undefined
    ? UNKNOWN
    : `${(value * 100).toFixed(1).replace("-", "−")}%`;

type Result = UnitEconomics["result"];
const COSTS: [keyof Result & string, string][] = [
  ["tax", "value added tax"],
  ["commission", "commission"],
  ["advertising", "advertising"],
  ["handling", "handling"],
  ["storage", "storage"],
  ["goods", "unit cost, ex works"],
  ["duty", "duty"],
  ["freight", "freight"],
  ["lost_to_returns", "cost of returns"],
];

/** From the price down to what is left, each cost taken off in its turn, at the price and at the year's lowest. */
const steps = computed(() => {
  const { result, lowest, costs, lowest_price, assumed } = props.paying;
  const cost = ([key, head]: [keyof Result & string, string]) => ({
    key: key as string,
    head: key === "handling" && result.size_class ? `${head}, class ${result.size_class}` : head,
    assumed: assumed.includes(key),
    now: money(-(result[key] as number)),
    then: lowest ? money(-(lowest[key] as number)) : UNKNOWN,
  });
  return [
    {
      key: "price",
      head: "price",
      assumed: false,
      now: money(costs.price),
      then: money(lowest_price),
    },
    ...COSTS.map(cost),
    {
      key: "left",
      head: "left",
      assumed: false,
      now: money(result.left),
      then: money(lowest?.left),
    },
  ];
});
/** What follows from it, and is no step of it. */
const ratios = computed(() => {
  const { result, lowest, costs } = props.paying;
  return [
    { key: "margin", head: costs.tax ? "margin on the price without tax" : "margin", now: percent(result.margin), then: percent(lowest?.margin) },
    { key: "landed", head: "landed cost", now: money(result.landed), then: "" },
    { key: "roi", head: "return on landed cost", now: percent(result.roi), then: percent(lowest?.roi) },
    { key: "break_even", head: "break-even price", now: money(result.break_even), then: "" },
    { key: "most", head: "highest landed cost", now: money(result.most), then: lowest ? money(lowest.most) : UNKNOWN },
  ].map((one) => ({ ...one, assumed: false }));
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
        <th v-explain="'at-the-price'" scope="col">at the price</th>
        <th v-explain="'at-the-lowest'" scope="col">at the lowest of 52 weeks</th>
      </tr>
    </thead>
    <tbody>
      <template v-for="step in [...steps, ...ratios]" :key="step.key">
        <tr :class="{ left: step.key === 'left' }">
          <th scope="row">
            {{ step.head }} <span v-if="step.assumed" class="small">assumed</span>
          </th>
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
        <th scope="row">yearly profit of a typical listing</th>
        <td>{{ formatMoney(paying.typical_left) }}</td>
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
