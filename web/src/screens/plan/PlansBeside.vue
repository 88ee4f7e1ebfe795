<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import type { OrderAmongOthers } from "@/api/orders";
import type { MadePlan } from "@/api/plans";
import { formatMoney, formatRound } from "@/format/money";
import { formatCount, formatDay, formatShare } from "@/format/values";

/** The plans of a niche side by side: suppliers, ways of transport, days. */
const props = defineProps<{
  plans: OrderAmongOthers[];
  /** What is on screen, where it is not kept as it stands. */
  unkept?: { plan: MadePlan; supplier: string; ways: string } | undefined;
  open: string | undefined;
  planOf: (key: string) => { path: string; query: Record<string, string | undefined> };
}>();

type Summary = Omit<
  Schemas["PlanSummary"],
  "sentence" | "warnings" | "caught" | "mean" | "until" | "payments"
>;
interface Row {
  key: string;
  name: string;
  note: string;
  summary: Summary;
}
const asSummary = ({ plan, supplier, ways }: NonNullable<typeof props.unkept>): Summary => ({
  supplier,
  ways,
  ordered: plan.dates.ordered,
  on_sale: plan.dates.on_sale[0] ?? plan.dates.ordered,
  units: plan.bill.units,
  landed: plan.bill.landed,
  unit_landed: plan.bill.landed / plan.bill.units,
  lowest: plan.cash.lowest as number[],
  final: plan.cash.final as number[],
  loss: plan.cash.loss,
  back: plan.cash.back[1] ?? null,
});
const rows = computed<Row[]>(() => [
  ...(props.unkept
    ? [{ key: "", name: props.unkept.plan.name, note: "on screen, not kept", summary: asSummary(props.unkept) }]
    : []),
  ...props.plans.flatMap((one) =>
    one.summary
      ? [{ key: one.key, name: one.name, note: one.placed ? "ordered" : "", summary: one.summary }]
      : [],
  ),
]); // prettier-ignore
const whole = (value: number | undefined): string => formatRound(Math.round(value ?? 0));
</script>

<template>
  <div class="scroller" tabindex="0" role="region" aria-label="Plans of this niche side by side">
    <table>
      <thead>
        <tr>
          <th scope="col">plan</th>
          <th scope="col">supplier, way</th>
          <th scope="col">order</th>
          <th scope="col">on sale</th>
          <th scope="col" class="right">units</th>
          <th scope="col" class="right">a unit landed</th>
          <th scope="col" class="right">lowest</th>
          <th scope="col" class="right">in the end</th>
          <th scope="col" class="right">loss</th>
          <th scope="col">money back</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in rows" :key="one.key" :class="{ open: one.key === (open ?? '') }">
          <th scope="row">
            <RouterLink v-if="one.key" :to="planOf(one.key)">{{ one.name }}</RouterLink>
            <template v-else>{{ one.name }}</template>
            <span v-if="one.note" class="small note">{{ one.note }}</span>
          </th>
          <td>{{ [one.summary.supplier, one.summary.ways].filter(Boolean).join(", ") }}</td>
          <td>{{ formatDay(one.summary.ordered) }}</td>
          <td>{{ formatDay(one.summary.on_sale) }}</td>
          <td class="right">{{ formatCount(one.summary.units) }}</td>
          <td class="right">{{ formatMoney(one.summary.unit_landed) }}</td>
          <td class="right">{{ whole(one.summary.lowest[1]) }}</td>
          <td class="right">
            {{ whole(one.summary.final[1]) }}
            <span class="small range"
              >{{ whole(one.summary.final[0]) }} to {{ whole(one.summary.final[2]) }}</span
            >
          </td>
          <td class="right">
            {{ one.summary.loss < 0.01 ? "<1%" : formatShare(one.summary.loss) }}
          </td>
          <td>{{ one.summary.back ? formatDay(one.summary.back) : "not in this time" }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroller {
  overflow-x: auto;
  scrollbar-width: thin;
}

table {
  width: 100%;
  min-width: 820px;
  border-collapse: collapse;
}

thead th {
  font: 11px/1.3 var(--condensed);
  color: var(--ink3);
}

th,
td {
  padding: 3px 12px 3px 0;
  border-bottom: 1px solid var(--rule);
  font-weight: 400;
  text-align: left;
  vertical-align: top;
  white-space: nowrap;
}

th[scope="row"],
td:nth-child(2) {
  max-width: 170px;
  overflow: hidden;
  text-overflow: ellipsis;
}

.right {
  text-align: right;
}

.note,
.range {
  display: block;
  line-height: 13px;
}

a {
  color: var(--q5);
}

.open {
  background: var(--ochre-wash);
}
</style>
