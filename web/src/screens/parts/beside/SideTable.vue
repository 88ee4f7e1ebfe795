<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import type { SideCell, SideLine } from "@/api/across";
import type { FigureRow } from "@/api/client";
import { registryQueries } from "@/api/registry";
import { formatFigure, shownUnit } from "@/format/figure";
import { formatCount } from "@/format/values";
import MonthHeader from "@/marks/MonthHeader.vue";
import YearStrip from "@/marks/YearStrip.vue";

/** Figures of several rows beside one another: which is best, and where each lies between the ends. */
const props = defineProps<{
  lines: SideLine[];
  columns: { key: string; currency: string }[];
  /** The currency of amounts that may be compared. */
  currency: string;
  strips: { profile: readonly number[] | null; asOf: number; arrival: number; label: string }[];
}>();
defineSlots<{
  head(props: { at: number }): unknown;
  before?(): unknown;
  after?(): unknown;
}>();

const registry = useQuery(registryQueries.figures());
const figures = computed(
  () => new Map((registry.data.value ?? []).map((one) => [one.key, one] as const)),
);
const groups = computed(() => {
  const heads = new Map<string, { figure: FigureRow; line: SideLine }[]>();
  for (const line of props.lines) {
    const figure = figures.value.get(line.figure);
    if (figure) heads.set(line.head, [...(heads.get(line.head) ?? []), { figure, line }]);
  }
  return [...heads].map(([head, rows]) => ({ head, rows }));
});

const APART = {
  within: "relative to its own market",
  rate: "not converted: no exchange rate",
  "": "",
} as const;

const currencyOf = (line: SideLine, at: number): string =>
  line.apart === "rate" ? (props.columns[at]?.currency ?? "") : props.currency;

/** An interval as its figure is written; a band as ranks are. */
function formatEnds(figure: FigureRow, cell: SideCell, currency: string): string {
  const ends = [cell.low, cell.high].filter((end) => end !== null);
  const told = ends.map((end) =>
    cell.banded ? formatCount(end) : formatFigure(figure, end, currency),
  );
  return [...new Set(told)].join(" to ");
}
</script>

<template>
  <v-table class="beside">
    <thead>
      <tr>
        <td />
        <th v-for="(column, at) in columns" :key="column.key" scope="col">
          <slot name="head" :at="at" />
        </th>
      </tr>
    </thead>
    <tbody>
      <tr>
        <th v-explain="'year-strip'" scope="row">Year</th>
        <td v-for="(strip, at) in strips" :key="columns[at]?.key">
          <YearStrip
            class="strip"
            :profile="strip.profile"
            :as-of="strip.asOf"
            :arrival="strip.arrival"
            :label="strip.label"
          />
          <MonthHeader class="months" />
        </td>
      </tr>
      <slot name="before" />
    </tbody>
    <tbody v-for="group in groups" :key="group.head">
      <tr>
        <th class="group small" scope="rowgroup" :colspan="columns.length + 1">
          {{ group.head }}
        </th>
      </tr>
      <tr v-for="{ figure, line } in group.rows" :key="figure.key">
        <th v-explain:figure="figure.key" scope="row">
          {{ figure.label }}
          <span class="small">{{ shownUnit(figure.unit, figure.label) }}</span>
          <span v-if="line.apart" class="small apart">{{ APART[line.apart] }}</span>
        </th>
        <td v-for="(cell, at) in line.cells" :key="columns[at]?.key" :class="{ best: cell.best }">
          <span class="figure">{{ formatFigure(figure, cell.value, currencyOf(line, at)) }}</span>
          <span class="small mark">{{ cell.best ? "best" : "" }}</span>
          <svg v-if="cell.at !== null" class="range" viewBox="-3 0 68 8" aria-hidden="true">
            <path d="M1 4H61M1 2V6M61 2V6" />
            <circle :cx="1 + cell.at * 60" cy="4" r="3" />
          </svg>
          <span v-if="cell.low !== null && cell.high !== null" class="small within"
            >{{ cell.banded ? "rank " : ""
            }}{{ formatEnds(figure, cell, currencyOf(line, at)) }}</span
          >
        </td>
      </tr>
    </tbody>
    <tbody v-if="$slots.after">
      <slot name="after" />
    </tbody>
  </v-table>
</template>

<style scoped>
.beside :deep(table) {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}

.beside :deep(th),
.beside :deep(td) {
  text-align: left;
  vertical-align: top;
  font-weight: 400;
  padding: 4px 14px 4px 0;
  border-bottom: 1px solid var(--rule);
}

.beside :deep(thead :is(td, th)) {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--paper);
  border-bottom: 1px solid var(--ink);
}

.beside :deep(th[scope="row"]) {
  color: var(--ink2);
}

.beside :deep(.group) {
  padding-top: 10px;
  color: var(--ink3);
  border-bottom-color: var(--ink3);
}

.strip {
  height: 20px;
}

.months {
  margin-top: 2px;
}

.figure {
  display: inline-block;
  min-width: 74px;
}

.best .figure {
  font-weight: 600;
}

.mark {
  display: inline-block;
  width: 26px;
  color: var(--q5);
}

.range {
  width: 68px;
  height: 8px;
}

.range path {
  stroke: var(--rule);
  fill: none;
}

.range circle {
  fill: var(--q4);
}

.within,
.apart {
  display: block;
}
</style>
