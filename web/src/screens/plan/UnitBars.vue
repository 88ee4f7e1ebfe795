<script setup lang="ts">
import { computed } from "vue";
import { formatMoney } from "@/format/money";

/** What is left of a unit, line by line: each bar hangs where the one above it ends. */
const props = defineProps<{ unit: Record<string, number>; assumed: string[] }>();

const NAMES: Record<string, string> = {
  price: "price",
  tax: "value added tax",
  commission: "commission",
  advertising: "advertising",
  handling: "handling",
  storage: "storage",
  goods: "unit cost, ex works",
  freight: "freight",
  duty: "duty",
  import_tax: "tax on imports",
  returns: "cost of returns",
  left: "left a unit",
};
const ASSUMED: Record<string, string> = { goods: "quote", freight: "freight" };
const lines = computed(() => {
  const amounts = Object.entries(NAMES).map(([key, name]) => ({
    key,
    name,
    amount: props.unit[key] ?? 0,
  }));
  const ends: number[] = [];
  let level = 0;
  for (const { key, amount } of amounts) {
    level = key === "left" ? amount : level + amount;
    ends.push(level);
  }
  const low = Math.min(0, ...ends);
  const span = Math.max(...ends, 0.01) - low;
  return amounts.map(({ key, name, amount }, i) => {
    const end = ends[i] ?? 0;
    const begin = key === "price" || key === "left" ? 0 : (ends[i - 1] ?? 0);
    return {
      key,
      name,
      amount,
      left: ((Math.min(begin, end) - low) / span) * 100,
      width: (Math.abs(end - begin) / span) * 100,
      assumed: props.assumed.some((one) => one.startsWith(ASSUMED[key] ?? key)),
    };
  });
});
</script>

<template>
  <table class="bars">
    <caption class="unseen">
      What is left of a unit
    </caption>
    <tbody>
      <tr v-for="line in lines" :key="line.key" :class="line.key">
        <th scope="row">{{ line.name }}</th>
        <td class="bar" aria-hidden="true">
          <i :style="{ left: `${line.left}%`, width: `${line.width}%` }" />
        </td>
        <td class="amount">{{ formatMoney(line.amount, true) }}</td>
        <td class="small">{{ line.assumed ? "assumed" : "" }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.bars {
  width: 100%;
  border-collapse: collapse;
}

th {
  width: 124px;
  padding: 2px 8px 2px 0;
  font-weight: 400;
  text-align: left;
  white-space: nowrap;
}

.bar {
  position: relative;
}

.bar i {
  position: absolute;
  top: 4px;
  bottom: 4px;
  min-width: 1px;
  background: var(--season);
}

.price .bar i {
  background: var(--q3);
}

.left .bar i {
  background: var(--q5);
}

.left th,
.left td {
  border-top: 1px solid var(--ink);
  font-weight: 600;
}

.amount {
  width: 70px;
  text-align: right;
}

td.small {
  width: 54px;
  padding-left: 8px;
  color: var(--ochre-text);
}
</style>
