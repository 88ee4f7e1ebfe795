<script setup lang="ts">
import { computed } from "vue";
import type { OrderAmongOthers, Orders } from "@/api/orders";
import { formatRound } from "@/format/money";
import { formatCount, formatDay, formatShare, UNKNOWN } from "@/format/values";
import { type Axis, monthsOf, percent, within } from "@/screens/parts/calendarAxis";
import CashLane from "@/screens/parts/orders/CashLane.vue";
import OrderLane from "@/screens/parts/orders/OrderLane.vue";

/** The cash of the plans that are taken and their units, month by month; under them each with its figures and its place
 *  in the year. */
const props = defineProps<{
  orders: Orders;
  axis: Axis;
  planOf: (plan: OrderAmongOthers) => { path: string; query: Record<string, string> };
}>();
const emit = defineEmits<{ take: [key: string, taken: boolean] }>();

/** Of the row, so that the figure over a bar has room. */
const HIGHEST = 0.74;
const months = computed(() => monthsOf(props.axis));
const most = computed(() => Math.max(1, ...props.orders.months.map((one) => one.units)));
const bars = computed(() =>
  props.orders.months.map((one, i) => {
    const from = within(props.axis.at(one.month));
    const to = props.orders.months[i + 1]?.month;
    return {
      ...one,
      style: {
        left: percent(from),
        width: percent((to ? props.axis.at(to) : 1) - from),
        height: percent((one.units / most.value) * HIGHEST),
      },
      tip: `${formatDay(one.month).slice(2)}: ${formatCount(one.units)} units${one.quiet ? ", quiet" : ""}`,
    };
  }),
);
/** What is added up comes first, then by the day of ordering. */
const plans = computed(() => {
  const place = (one: OrderAmongOthers): string =>
    `${one.placed ? 0 : one.taken ? 1 : 2}${one.summary?.ordered ?? "9999"}${one.name}`;
  return [...props.orders.plans].sort((a, b) => place(a).localeCompare(place(b)));
});
const whole = (value: number | null | undefined): string =>
  value == null ? UNKNOWN : formatRound(Math.round(value));
const stateOf = (one: OrderAmongOthers): string =>
  one.placed ? "ordered" : one.proposed ? "proposed" : "";
const lossOf = (loss: number): string => (loss < 0.01 ? "<1%" : formatShare(loss));
</script>

<template>
  <div class="scroller" tabindex="0" role="region" aria-label="Plans, and the cash they bind">
    <v-table class="wide-table">
      <thead>
        <tr>
          <th scope="col" class="tick"><span class="unseen">taken</span></th>
          <th scope="col" class="name">plan</th>
          <th scope="col" class="right figure">order on</th>
          <th scope="col" class="right few figure">units</th>
          <th scope="col" class="right figure">landed</th>
          <th v-explain="'cash-path'" scope="col" class="right figure">lowest</th>
          <th scope="col" class="right wide figure">in the end</th>
          <th scope="col" class="right few figure">loss</th>
          <th scope="col" class="drawn">
            <span class="unseen">fifteen months</span>
            <span
              v-for="month in months"
              :key="month.day"
              class="month"
              :style="{ left: percent(month.at) }"
              ><b>{{ month.year }}</b
              >{{ month.label.slice(0, 1)
              }}<span class="rest">{{ month.label.slice(1) }}</span></span
            >
          </th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <th scope="row" colspan="2" class="told">
            {{ orders.cash_at_hand === null ? "Change of the cash" : "Cash" }} of what is ticked,
            week by week
            <span class="small">middle of 1,000 draws; band: eight draws of ten</span>
          </th>
          <td colspan="6" class="figure" />
          <td class="drawn cash">
            <CashLane :orders="orders" :axis="axis" />
          </td>
        </tr>
        <tr>
          <th scope="row" colspan="2" class="told">
            Units expected, month by month
            <span class="small">hatched: quiet, less than a third of the mean month</span>
          </th>
          <td colspan="6" class="figure" />
          <td class="drawn units">
            <i
              v-for="one in bars"
              :key="one.month"
              :class="{ quiet: one.quiet }"
              :style="one.style"
              :data-tip="one.tip"
              ><span v-if="one.units >= 0.5" class="small" :class="{ above: one.quiet }">{{
                formatCount(one.units)
              }}</span></i
            >
            <i
              v-for="one in bars.filter(({ quiet }) => quiet)"
              :key="`q${one.month}`"
              class="hatched"
              :style="{ left: one.style.left, width: one.style.width }"
              :data-tip="one.tip"
            />
          </td>
        </tr>
      </tbody>
      <tbody>
        <tr v-for="one in plans" :key="one.key" :class="{ out: !one.taken }">
          <td class="tick">
            <v-checkbox
              :model-value="one.taken"
              :disabled="one.placed || !one.summary"
              :aria-label="`Add up ${one.name} of ${one.niche}`"
              @update:model-value="emit('take', one.key, $event === true)"
            />
          </td>
          <th scope="row" class="name">
            <RouterLink class="serif" :to="planOf(one)" :data-tip="`${one.niche}: ${one.name}`">{{
              one.niche
            }}</RouterLink>
            <span class="small"
              ><b v-if="stateOf(one)">{{ stateOf(one) }} · </b>{{ one.name }}</span
            >
            <span v-if="one.summary" class="small narrow"
              >{{ formatCount(one.summary.units) }} units on
              {{ formatDay(one.summary.ordered) }}</span
            >
            <span v-if="one.summary" class="small narrow"
              >binds {{ whole(-(one.summary.lowest[1] ?? 0)) }}, loss
              {{ lossOf(one.summary.loss) }}</span
            >
          </th>
          <template v-if="one.summary">
            <td class="figure right">{{ formatDay(one.summary.ordered) }}</td>
            <td class="figure right few">{{ formatCount(one.summary.units) }}</td>
            <td class="figure right">{{ whole(one.summary.landed) }}</td>
            <td class="figure right">{{ whole(one.summary.lowest[1]) }}</td>
            <td class="figure right wide">
              {{ whole(one.summary.final[1]) }}
              <span class="small range"
                >{{ whole(one.summary.final[0]) }} to {{ whole(one.summary.final[2]) }}</span
              >
            </td>
            <td class="figure right few">{{ lossOf(one.summary.loss) }}</td>
            <td class="drawn">
              <OrderLane :summary="one.summary" :axis="axis" :taken="one.taken" />
              <span class="small said" :data-tip="one.came_of_it ?? one.reason">{{
                one.came_of_it ?? one.reason
              }}</span>
            </td>
          </template>
          <td v-else class="problem" colspan="7">{{ one.problem }}</td>
        </tr>
      </tbody>
    </v-table>
  </div>
</template>

<style scoped>
.scroller {
  position: relative;
  padding-right: var(--gutter);
  overflow: auto;
  scrollbar-width: thin;
}

.v-table :deep(table) {
  width: 100%;
  min-width: 1180px;
  border-collapse: collapse;
  table-layout: fixed;
}

thead th {
  position: sticky;
  top: 0;
  z-index: 1;
  height: 34px;
  vertical-align: bottom;
  background: var(--paper);
  font: 11px/1.2 var(--condensed);
  color: var(--ink2);
}

th,
td {
  width: 82px;
  padding: 3px 10px 3px 0;
  border-bottom: 1px solid var(--rule);
  font-weight: 400;
  text-align: left;
  vertical-align: top;
  white-space: nowrap;
}

.tick {
  width: 44px;
  padding-left: var(--gutter);
}

th.name {
  width: 210px;
}

.name .serif,
.name .small {
  display: block;
  overflow: hidden;
  color: inherit;
  text-decoration: none;
  text-overflow: ellipsis;
}

.name .serif {
  font-size: 15px;
  line-height: 19px;
}

.name .serif:hover {
  text-decoration: underline;
}

.right {
  text-align: right;
}

th.few,
td.few {
  width: 54px;
}

th.wide,
td.wide {
  width: 124px;
}

.range {
  display: block;
}

.drawn {
  position: relative;
  width: auto;
  padding-right: 0;
  padding-left: 0;
}

/* Two lines have room beside the two of a name; all of it is in the tip. */
.said {
  display: -webkit-box;
  overflow: hidden;
  line-height: 13px;
  white-space: normal;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
}

.month {
  position: absolute;
  bottom: 2px;
  padding-left: 4px;
  border-left: 1px solid var(--rule);
}

.month b {
  display: block;
  font-weight: 400;
}

.out .name,
.out td {
  color: var(--ink3);
}

td.right,
td.problem {
  line-height: 19px;
}

.problem {
  white-space: normal;
  color: var(--rust);
}

.told {
  padding-left: var(--gutter);
  font-weight: 600;
  white-space: normal;
}

.told .small {
  display: block;
  font-weight: 400;
}

.cash {
  height: 110px;
  padding: 6px 0;
}

.units {
  height: 64px;
  padding: 0;
}

.units i {
  position: absolute;
  bottom: 0;
  box-sizing: border-box;
  min-height: 1px;
  border-right: 1px solid var(--paper);
  background: var(--q4);
}

.units i span {
  position: absolute;
  bottom: 100%;
  width: 100%;
  font-style: normal;
  text-align: center;
}

/* Over the hatching. */
.units i .above {
  bottom: max(100%, 10px);
}

.units .hatched {
  height: 10px;
  background: repeating-linear-gradient(135deg, var(--ochre) 0 1px, var(--ochre-wash) 1px 4px);
}

.name .narrow {
  display: none;
}

@media (max-width: 1000px) {
  .figure {
    display: none;
  }

  /* The highest of the cash is written at its end. */
  .told {
    padding-right: 52px;
  }

  .name .narrow {
    display: block;
  }

  .v-table :deep(table) {
    min-width: 360px;
  }

  th.name {
    width: 150px;
  }
}

/* Fifteen months have room for a letter each. */
@media (max-width: 600px) {
  .rest,
  .units i span {
    display: none;
  }

  .month {
    padding-left: 2px;
    border-left: 0;
  }
}

@media print {
  .scroller {
    overflow: visible;
  }

  tr {
    break-inside: avoid;
  }

  .units {
    print-color-adjust: exact;
  }
}
</style>
