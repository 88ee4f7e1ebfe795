<script setup lang="ts">
import { useQueries, useQuery } from "@tanstack/vue-query";
import { computed, defineAsyncComponent } from "vue";
import { useRoute, useRouter } from "vue-router";
import { ApiError, CATEGORIES, type Choice, type FigureRow } from "@/api/client";
import { type Compared, previewQueries } from "@/api/previews";
import { registryQueries } from "@/api/registry";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import GrowthBars from "@/marks/GrowthBars.vue";
import MonthHeader from "@/marks/MonthHeader.vue";
import SignalLine from "@/marks/SignalLine.vue";
import VerdictText from "@/marks/VerdictText.vue";
import YearStrip from "@/marks/YearStrip.vue";
import { addDays, formatCount, formatDay, yearShare } from "@/format/values";
import MarketGate from "@/screens/parts/MarketGate.vue";
import NoteField from "@/screens/parts/NoteField.vue";
import { formatFigure, shownUnit } from "@/format/figure";
import { useDecisions } from "@/state/useDecisions";
import { useTabTitle } from "@/state/useTabTitle";
import { MAX_COMPARED } from "@/state/useMarked";
import { useShortcuts } from "@/state/useShortcuts";
import { KINDS, useKindNamed } from "@/state/useKind";
import { useMarket, useNamed } from "@/state/useMarket";
import { type ComparedCell, comparedFigures, compareFigure } from "./rows";

const NOT_FOUND = 404;
const CompareChart = defineAsyncComponent(() => import("@/charts/CompareChart.vue"));

const route = useRoute();
const router = useRouter();
const { market } = useMarket();
useTabTitle("Side by side");
const figures = useQuery(registryQueries.figures());
const kind = useKindNamed(Object.values(KINDS));
const { decide, undo } = useDecisions();
const TOO_FEW = {
  title: `Two to six ${kind.many} stand side by side`,
  text: `Mark some in ${kind.screen} with Space, or in the Shortlist, and press c.`,
};

const named = useNamed(kind);
const wanted = computed(() => named.value.slice(0, MAX_COMPARED));
const indexed = computed({
  get: () => route.query["curves"] !== "counts",
  set: (on) =>
    void router.replace({ query: { ...route.query, curves: on ? undefined : "counts" } }),
});
const previews = useQueries({
  queries: computed(() =>
    market.value
      ? wanted.value.map((id) =>
          previewQueries.compared(kind.of, market.value?.market_id ?? "", id),
        )
      : [],
  ),
});
const rows = computed(() =>
  previews.value.map((one) => one.data).filter((one) => one !== undefined),
);
const isUnknown = (error: unknown): boolean =>
  error instanceof ApiError && error.status === NOT_FOUND;
/** Rows that the market does not have: an address may be older than an import. */
const unknown = computed(() => wanted.value.filter((_, i) => isUnknown(previews.value[i]?.error)));
const tooFew = computed(() => {
  const names = unknown.value.map((one) => `“${one}”`).join(", ");
  if (!names) return TOO_FEW;
  const are = unknown.value.length === 1 ? "is" : "are";
  return { ...TOO_FEW, text: `${names} ${are} not in ${market.value?.name}. ${TOO_FEW.text}` };
});
const failure = computed(
  () => previews.value.find((one) => one.error && !isUnknown(one.error))?.error,
);
const groups = computed(() =>
  comparedFigures(kind.of, figures.data.value ?? []).map(({ head, figures }) => ({
    head,
    rows: figures.map((figure) => ({ figure, cells: compareFigure(figure, rows.value) })),
  })),
);

/** An interval as its figure is written; a band as ranks are. */
function formatEnds(figure: FigureRow, { ends, banded }: ComparedCell): string {
  const told = ends?.map((end) => (banded ? formatCount(end) : formatFigure(figure, end)));
  return [...new Set(told)].join(" to ");
}

function leaveOut(...ids: string[]): void {
  const rest = wanted.value.filter((one) => !ids.includes(one));
  void router.replace({ query: { ...route.query, [kind.named]: rest } });
}

function decideOn(row: Compared, choice: Choice): void {
  if (market.value) void decide(market.value.market_id, row, choice);
}

const print = (): void => window.print();
useShortcuts([
  { keys: ["i"], does: "Curves as they are, or against their means", run: () => (indexed.value = !indexed.value) },
  { keys: ["u"], does: "Undo the latest decision", run: () => void undo() },
  { keys: ["Escape"], label: "Esc", does: "Back", run: () => router.back() },
]); // prettier-ignore
</script>

<template>
  <div class="compare">
    <MarketGate
      :pending="rows.length + unknown.length < wanted.length || !market"
      :failure="failure"
      :empty="wanted.length - unknown.length < 2 && tooFew"
      @retry="previews.forEach((one) => one.refetch())"
    >
      <template v-if="market">
        <header class="bar">
          <h1 class="serif">Side by side</h1>
          <span class="small"
            >{{ market.name }}, as of {{ formatDay(market.as_of)
            }}<template v-if="kind.of !== CATEGORIES"
              >; rank and headroom by the lens Default</template
            ></span
          >
          <v-checkbox v-model="indexed" label="each against its own mean" />
          <v-btn @click="print">Print</v-btn>
        </header>
        <p v-if="unknown.length" class="unknown" role="status">
          Not in this market: {{ unknown.join(", ") }}.
          <v-btn @click="leaveOut(...unknown)">Leave out</v-btn>
        </p>
        <CompareChart class="chart" :rows="rows" :indexed="indexed" />
        <v-table>
          <thead>
            <tr>
              <td />
              <th v-for="row in rows" :key="row.id" scope="col">
                <span class="name serif">{{ row.name }}</span>
                <span class="small">{{ row.category }}</span>
                <span class="acts">
                  <DecisionMarks
                    :decision="row.decision"
                    :name="row.name"
                    @decide="decideOn(row, $event)"
                  />
                  <v-btn v-if="rows.length > 2" class="small" @click="leaveOut(row.id)">
                    Leave out<span class="unseen"> {{ row.name }}</span>
                  </v-btn>
                </span>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr>
              <th v-explain="'year-strip'" scope="row">
                <MonthHeader class="small months" /><span class="unseen">year</span>
              </th>
              <td v-for="row in rows" :key="row.id">
                <YearStrip
                  class="strip"
                  :profile="row.figures.season_profile"
                  :as-of="yearShare(market.as_of)"
                  :arrival="yearShare(addDays(market.planning_date, row.lead_days))"
                  :label="`Year strip of ${row.name}`"
                />
              </td>
            </tr>
            <tr>
              <th v-explain="'growth-split'" scope="row">13 weeks: season, drift</th>
              <td v-for="row in rows" :key="row.id">
                <GrowthBars
                  :season="row.figures.growth_13w_season"
                  :drift="row.figures.growth_13w_drift"
                />
              </td>
            </tr>
          </tbody>
          <tbody v-for="group in groups" :key="group.head">
            <tr>
              <th class="group small" scope="rowgroup" :colspan="rows.length + 1">
                {{ group.head }}
              </th>
            </tr>
            <tr v-for="{ figure, cells } in group.rows" :key="figure.key">
              <th v-explain:figure="figure.key" scope="row">
                {{ figure.label }}
                <span class="small">{{ shownUnit(figure.unit, figure.label) }}</span>
              </th>
              <td v-for="(cell, i) in cells" :key="rows[i]?.id" :class="{ best: cell.best }">
                <span class="figure">{{ formatFigure(figure, cell.value) }}</span>
                <span class="small mark">{{ cell.best ? "best" : "" }}</span>
                <svg v-if="cell.at !== null" class="range" viewBox="-3 0 68 8" aria-hidden="true">
                  <path d="M1 4H61M1 2V6M61 2V6" />
                  <circle :cx="1 + cell.at * 60" cy="4" r="3" />
                </svg>
                <span v-if="cell.ends" class="small within"
                  >{{ cell.banded ? "rank " : "" }}{{ formatEnds(figure, cell) }}</span
                >
              </td>
            </tr>
          </tbody>
          <tbody>
            <tr>
              <th class="group small" scope="rowgroup" :colspan="rows.length + 1">In words</th>
            </tr>
            <tr v-if="kind.of !== CATEGORIES" class="words">
              <th v-explain="'signal'" scope="row">Signals</th>
              <td v-for="row in rows" :key="row.id">
                <SignalLine :signals="row.signals" />
              </td>
            </tr>
            <tr class="words">
              <th v-explain="'verdict'" scope="row">Verdict</th>
              <td v-for="row in rows" :key="row.id"><VerdictText :subject="row" /></td>
            </tr>
            <tr class="words">
              <th v-explain="'note'" scope="row">Note</th>
              <td v-for="row in rows" :key="row.id">
                <NoteField :market="market.market_id" :niche="row" />
              </td>
            </tr>
          </tbody>
        </v-table>
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.compare {
  position: relative;
  height: 100%;
  overflow: auto;
  padding: 0 var(--gutter) 24px;
  box-sizing: border-box;
}

.bar {
  display: flex;
  align-items: baseline;
  gap: 18px;
  padding: 10px 0 4px;
}

.bar .v-btn {
  margin-left: auto;
}

h1 {
  font-size: 20px;
  margin: 0;
}

.chart {
  height: 220px;
}

.v-table :deep(table) {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}

th,
td {
  text-align: left;
  vertical-align: top;
  font-weight: 400;
  padding: 4px 14px 4px 0;
  border-bottom: 1px solid var(--rule);
}

thead th {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--paper);
  border-bottom: 1px solid var(--ink);
}

th[scope="row"] {
  color: var(--ink2);
}

.name {
  display: block;
  color: var(--ink);
  font-size: 17px;
  line-height: 1.15;
}

.acts {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 8px;
}

.strip {
  height: 20px;
}

.months {
  margin-top: 2px;
}

.group {
  padding-top: 10px;
  color: var(--ink3);
  border-bottom-color: var(--ink3);
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

.within {
  display: block;
}

.words td {
  font: 13px/1.35 var(--serif);
  color: var(--ink2);
}

@media print {
  .compare {
    height: auto;
    overflow: visible;
  }

  .v-btn,
  .v-checkbox {
    display: none;
  }
}
</style>
