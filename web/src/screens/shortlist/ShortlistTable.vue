<script setup lang="ts">
import { nextTick, ref, watch } from "vue";
import { type Choice, type FigureRow, type Kind, type MarketSummary, NICHES } from "@/api/client";
import { formatDay, yearShare } from "@/format/values";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import MonthHeader from "@/marks/MonthHeader.vue";
import YearStrip from "@/marks/YearStrip.vue";
import { useKind } from "@/state/useKind";
import { arrivalShare } from "@/state/useMarket";
import { useHandOrder } from "@/ui/useHandOrder";
import SortButton from "@/ui/SortButton.vue";
import PlanCell from "./PlanCell.vue";
import type { PlannedOrder } from "./plannedOrders";
import ThenNow from "./ThenNow.vue";
import type { Entry } from "./useEntries";

/** The entries in the order they were put in by hand, each with the figures of the decision and of now. */
const props = defineProps<{
  entries: Entry[];
  /** Place of the selected entry. */
  place: number;
  market: MarketSummary;
  figures: FigureRow[];
  /** Whether rows can be put elsewhere; not while only some of them are shown, or in another order. */
  movable: boolean;
  /** What they are sorted by, see sortEntries. */
  sort: string;
  isMarked: (niche: string) => boolean;
  /** What is planned of each entry, by its id; none for what no plan is made of. */
  planned?: Map<string, PlannedOrder> | undefined;
}>();
const emit = defineEmits<{
  select: [place: number];
  mark: [niche: string];
  decide: [entry: Entry, choice: Choice];
  move: [from: number, to: number];
  sort: [key: string];
}>();

const kind = useKind();
const arrivalOf = (one: Entry): number =>
  arrivalShare(props.market, kind.of === NICHES ? one.id : "");
const OF_DEMAND = ["headroom", "drift_rate_year", "searches_52w", "sales.price_median", "act.caught", "order_by"]; // prettier-ignore
const OF_HOLDERS = ["carried.listings", "drift_rate_year", "sales.units_52w", "carried.price", "carried.came_52w", "carried.asleep"]; // prettier-ignore
/** What is sold has no rank; a listing's dates are those of the season it sleeps for. */
const SHOWN: Partial<Record<Kind, string[]>> = {
  listings: ["sleep.state", "drift_rate_year", "sales.units_52w", "listing.price", "sleep.caught", "sleep.order_by"],
  brands: OF_HOLDERS,
  sellers: OF_HOLDERS,
}; // prettier-ignore
const FIGURES = SHOWN[kind.of] ?? OF_DEMAND;
/** Headings of the figures. */
const HEADS: Record<string, string> = {
  headroom: "headroom", drift_rate_year: "drift a year", searches_52w: "searches/yr",
  "sales.price_median": "price", "act.caught": "caught", order_by: "order by",
  "sleep.state": "sleeper", "sales.units_52w": "units/yr", "listing.price": "price",
  "sleep.caught": "caught", "sleep.order_by": "order by", "carried.listings": "listings",
  "carried.price": "price", "carried.came_52w": "came", "carried.asleep": "asleep",
}; // prettier-ignore
const isDate = (key: string): boolean => key.endsWith("order_by");
const sorted = (key: string): "ascending" | "descending" | undefined => {
  if (props.sort.replace(/^-/, "") !== key) return undefined;
  return props.sort.startsWith("-") ? "descending" : "ascending";
};

const planOf = (niche: string) => ({
  path: "/plan",
  query: { market: props.market.market_id, niche, plan: props.planned?.get(niche)?.key },
});
const figureOf = (key: string) => props.figures.find((one) => one.key === key);
const body = ref<HTMLElement | null>(null);
watch(
  () => props.place,
  async (at) => {
    await nextTick();
    document.getElementById(`entry-${at}`)?.scrollIntoView({ block: "nearest" });
  },
);

useHandOrder(body, (from, to) => emit("move", from, to), {
  handle: ".place",
  enabled: () => props.movable,
});
</script>

<template>
  <div class="scroller">
    <v-table class="wide-table">
      <thead>
        <tr>
          <th v-explain="'marked'" scope="col" class="narrow">
            <span class="unseen">marked</span>
          </th>
          <th v-explain="'place'" scope="col" class="narrow">place</th>
          <th v-explain="'decision'" scope="col" class="narrow">
            <span class="unseen">decision</span>
          </th>
          <th v-explain="kind.one" scope="col" class="niche" :aria-sort="sorted('name')">
            <SortButton :head="kind.one" :order="sorted('name')" @sort="$emit('sort', 'name')" />
          </th>
          <th v-explain="'year-strip'" scope="col" class="year"><MonthHeader /></th>
          <th
            v-for="key in FIGURES"
            :key="key"
            v-explain:figure="key"
            scope="col"
            class="right"
            :class="{ date: isDate(key) }"
            :aria-sort="sorted(key)"
          >
            <SortButton :head="HEADS[key] ?? key" :order="sorted(key)" @sort="$emit('sort', key)" />
          </th>
          <th v-if="planned" v-explain="'orders'" scope="col" class="plan">plan</th>
          <th v-explain="'decided'" scope="col" :aria-sort="sorted('decided')">
            <SortButton
              head="decided"
              :order="sorted('decided')"
              @sort="$emit('sort', 'decided')"
            />
          </th>
          <th v-explain="'why'" scope="col" class="why">why · note</th>
        </tr>
      </thead>
      <tbody ref="body">
        <tr
          v-for="(one, i) in entries"
          :id="`entry-${i}`"
          :key="one.id"
          :class="{ selected: i === place, gone: !one.present }"
          :aria-current="i === place"
          @click="$emit('select', i)"
        >
          <td class="narrow">
            <v-checkbox
              :model-value="isMarked(one.id)"
              :aria-label="`Mark ${one.name}`"
              @click.stop
              @update:model-value="$emit('mark', one.id)"
            />
          </td>
          <td
            class="narrow place"
            :data-tip="movable ? 'Drag to another place, or Shift and an arrow key' : undefined"
          >
            <b>{{ i + 1 }}</b>
          </td>
          <td class="narrow">
            <DecisionMarks
              :decision="one.choice"
              :name="one.name"
              @decide="$emit('decide', one, $event)"
            />
          </td>
          <th scope="row" class="niche" :data-tip="one.name">
            <span class="name serif">{{ one.name }}</span>
            <span class="small name">
              {{
                one.present
                  ? one.category
                  : one.part_of
                    ? `now part of ${one.part_of.name}`
                    : "no longer in the figures"
              }}
            </span>
          </th>
          <td class="year">
            <YearStrip
              class="strip"
              :profile="one.profile"
              :as-of="yearShare(market.as_of)"
              :arrival="arrivalOf(one)"
              :label="`Year strip of ${one.name}`"
            />
          </td>
          <td v-for="key in FIGURES" :key="key" class="right" :class="{ date: isDate(key) }">
            <ThenNow
              :figure="figureOf(key)"
              :then="one.then[key]"
              :now="one.now[key]"
              :present="one.present"
            />
          </td>
          <td v-if="planned" class="small plan">
            <PlanCell :planned="planned.get(one.id)" :to="planOf(one.id)" />
          </td>
          <td class="small">{{ formatDay(one.decided_at.slice(0, 10)) }}</td>
          <td class="why">
            {{ [one.reason, one.note].filter(Boolean).join(" · ") }}
            <span v-for="word in one.tags" :key="word" class="tag small">{{ word }}</span>
          </td>
        </tr>
      </tbody>
    </v-table>
  </div>
</template>

<style scoped>
.tag {
  border: 1px solid var(--rule);
  border-radius: 2px;
  background: none;
  padding: 0 5px;
  cursor: pointer;
}

.scroller {
  position: relative;
  flex: 1;
  min-height: 0;
  overflow: auto;
  scrollbar-width: thin;
}

.v-table :deep(table) {
  width: 100%;
  min-width: 1040px;
  border-collapse: collapse;
  table-layout: fixed;
}

thead th {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--paper);
  font: 11px/1.2 var(--condensed);
  color: var(--ink2);
  padding: 5px 10px 5px 0;
}

th,
td {
  text-align: left;
  font-weight: 400;
  padding: 4px 10px 4px 0;
  border-bottom: 1px solid var(--rule);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  width: 84px;
}

th.date,
td.date {
  width: 106px;
}

th:first-child,
td:first-child {
  padding-left: var(--gutter);
}

th.narrow,
td.narrow {
  width: 46px;
  box-sizing: border-box;
}

th:first-child.narrow {
  width: 52px;
}

th.niche {
  width: 180px;
}

th.year,
td.year {
  width: 104px;
}

th.plan,
td.plan {
  width: 132px;
}

/* Two lines of it have room beside a name and its category; more is read at the foot. */
.why {
  width: auto;
  padding-right: var(--gutter);
  color: var(--ink2);
  white-space: normal;
}

.right {
  text-align: right;
}

th.right,
td.right {
  width: 80px;
}

.place {
  cursor: grab;
}

.name {
  display: block;
  overflow: clip visible;
  text-overflow: ellipsis;
}

.name.serif {
  font-size: 15px;
  line-height: 1.15;
}

.strip {
  height: 18px;
}

.selected {
  background: var(--ochre-wash);
  box-shadow:
    inset 0 1px var(--ochre),
    inset 0 -1px var(--ochre);
}

.selected .small,
.selected :deep(.was) {
  color: var(--ink2);
}

.gone .name.serif {
  color: var(--ink3);
}
</style>
