<script setup lang="ts">
import { computed, nextTick, watch } from "vue";
import type { Choice, FigureRow, LedgerRow, MarketSummary } from "@/api/client";
import type { TreeRow } from "@/api/catalogue";
import { formatFigure } from "@/format/figure";
import { formatCount, yearShare } from "@/format/values";
import DriftMark from "@/marks/DriftMark.vue";
import YearStrip from "@/marks/YearStrip.vue";
import { arrivalShare } from "@/state/useMarket";
import SortButton from "@/ui/SortButton.vue";

/** The tree of categories as an indented table: each level sorted within itself, branches opened and closed. */
const props = defineProps<{
  rows: TreeRow[];
  market: MarketSummary;
  chosen: string | undefined;
  sort: string;
  /** A figure that rows show besides. */
  figure: FigureRow | undefined;
  isMarked: (id: string) => boolean;
}>();
const emit = defineEmits<{
  choose: [id: string];
  toggle: [id: string, open: boolean];
  mark: [id: string];
  sort: [key: string];
}>();

const order = (key: string): "ascending" | "descending" | undefined =>
  props.sort === key ? "ascending" : props.sort === `-${key}` ? "descending" : undefined;
const drift = (row: TreeRow) => {
  const number = (key: string) =>
    typeof row.cells[key] === "number" ? (row.cells[key] as number) : null;
  return {
    drift: (row.cells["drift"] ?? null) as LedgerRow["drift"],
    drift_rate_year: number("drift_rate_year"),
    drift_low: number("drift_low"),
    drift_high: number("drift_high"),
  };
};
const count = (row: TreeRow, key: string): number | null =>
  typeof row.cells[key] === "number" ? (row.cells[key] as number) : null;
const DECIDED: Record<Choice, string> = { keep: "kept", park: "parked", pass: "passed", open: "" };
const place = computed(() => props.rows.findIndex((row) => row.id === props.chosen));

function click(row: TreeRow): void {
  if (row.id === props.chosen && row.children) emit("toggle", row.id, !row.open);
  else emit("choose", row.id);
}

// The chosen row stays in view when it is walked to by key.
watch(place, async (at) => {
  await nextTick();
  document.getElementById(`category-${at}`)?.scrollIntoView({ block: "nearest" });
});
</script>

<template>
  <table role="treegrid" aria-label="Categories">
    <thead>
      <tr>
        <th scope="col" :aria-sort="order('name')">
          <SortButton head="category" :order="order('name')" @sort="$emit('sort', 'name')" />
        </th>
        <th v-explain="'year-strip'" scope="col" class="strip">year</th>
        <th
          v-explain:figure="'searches_52w'"
          scope="col"
          class="number"
          :aria-sort="order('searches_52w')"
        >
          <SortButton
            head="searches/yr"
            :order="order('searches_52w')"
            @sort="$emit('sort', 'searches_52w')"
          />
        </th>
        <th
          v-explain:figure="'drift_rate_year'"
          scope="col"
          class="number"
          :aria-sort="order('drift_rate_year')"
        >
          <SortButton
            head="drift"
            :order="order('drift_rate_year')"
            @sort="$emit('sort', 'drift_rate_year')"
          />
        </th>
        <th v-explain:figure="'openness'" scope="col" class="number" :aria-sort="order('openness')">
          <SortButton
            head="openness"
            :order="order('openness')"
            @sort="$emit('sort', 'openness')"
          />
        </th>
        <th
          v-if="figure"
          v-explain:figure="figure.key"
          scope="col"
          class="number own"
          :aria-sort="order(figure.key)"
        >
          <SortButton
            :head="figure.label.toLowerCase()"
            :order="order(figure.key)"
            @sort="$emit('sort', figure.key)"
          />
        </th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="(row, i) in rows"
        :id="`category-${i}`"
        :key="row.id"
        :aria-level="row.depth + 1"
        :aria-expanded="row.children ? row.open : undefined"
        :aria-selected="row.id === chosen"
        :class="{ leads: !row.passes }"
        @click="click(row)"
      >
        <th scope="row">
          <span class="name">
            <input
              class="mark"
              type="checkbox"
              tabindex="-1"
              :checked="isMarked(row.id)"
              :aria-label="`Mark ${row.name}`"
              @click.stop
              @change="$emit('mark', row.id)"
            />
            <span :style="{ width: `${row.depth * 16}px` }" class="depth" />
            <button
              v-if="row.children"
              class="twig"
              tabindex="-1"
              :aria-label="`${row.open ? 'Close' : 'Open'} ${row.name}`"
              @click.stop="$emit('toggle', row.id, !row.open)"
            >
              {{ row.open ? "▾" : "▸" }}
            </button>
            <span v-else class="twig" aria-hidden="true">·</span>
            <span class="serif"
              >{{ row.name
              }}<span v-if="row.decision" class="small"
                >&nbsp;{{ DECIDED[row.decision] }}</span
              ></span
            >
          </span>
        </th>
        <td class="strip">
          <YearStrip
            :profile="row.season_profile"
            :as-of="yearShare(market.as_of)"
            :arrival="arrivalShare(market)"
            :label="`Year strip of ${row.name}`"
          />
        </td>
        <td class="number">
          {{ formatCount(count(row, "searches_52w")) }}
        </td>
        <td class="number"><DriftMark :row="drift(row)" /></td>
        <td class="number open">{{ formatCount(count(row, "openness")) }}</td>
        <td v-if="figure" class="number own">{{ formatFigure(figure, row.cells[figure.key]) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}

thead th {
  position: sticky;
  top: 0;
  z-index: 1;
  padding: 4px 6px;
  background: var(--paper);
  border-bottom: 1px solid var(--rule);
  font: 11px/1.2 var(--condensed);
  color: var(--ink2);
  text-align: left;
  vertical-align: bottom;
}

tbody tr {
  cursor: pointer;
}

tbody tr:hover {
  background: var(--page);
}

tbody tr[aria-selected="true"] {
  background: var(--ochre-wash);
}

tbody tr.leads .serif,
tbody tr.leads td {
  color: var(--ink3);
}

th,
td {
  padding: 2px 6px;
  border-bottom: 1px solid var(--rule);
  font-weight: 400;
}

th:first-child {
  padding-left: 0;
}

.number {
  text-align: right;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}

thead .number {
  text-align: right;
}

.open {
  font-weight: 600;
}

.own {
  max-width: 96px;
  overflow: hidden;
  text-overflow: ellipsis;
}

.strip {
  width: 74px;
  min-width: 74px;
  height: 26px;
}

.name {
  display: flex;
  align-items: center;
  text-align: left;
  line-height: 1.2;
  overflow-wrap: anywhere;
}

.depth {
  flex: none;
}

.mark {
  flex: none;
  width: 14px;
  margin: 0 2px 0 0;
}

.twig {
  flex: none;
  width: 24px;
  line-height: 24px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink3);
  font: inherit;
  text-align: center;
}

button.twig {
  cursor: pointer;
}

/* On a phone the names need the room; the strip is in the category's own year below. */
@media (max-width: 560px) {
  .strip {
    display: none;
  }
}
</style>
