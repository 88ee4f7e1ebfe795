<script setup lang="ts">
import { useQueries, useQuery } from "@tanstack/vue-query";
import { computed, defineAsyncComponent } from "vue";
import { useRoute, useRouter } from "vue-router";
import { acrossQueries } from "@/api/across";
import { ApiError, CATEGORIES, type Choice } from "@/api/client";
import { type Compared, previewQueries } from "@/api/previews";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import GrowthBars from "@/marks/GrowthBars.vue";
import SignalLine from "@/marks/SignalLine.vue";
import VerdictText from "@/marks/VerdictText.vue";
import { addDays, formatDay, yearShare } from "@/format/values";
import MarketGate from "@/screens/parts/MarketGate.vue";
import SideTable from "@/screens/parts/beside/SideTable.vue";
import NoteField from "@/screens/parts/NoteField.vue";
import { useDecisions } from "@/state/useDecisions";
import { useTabTitle } from "@/state/useTabTitle";
import { MAX_COMPARED } from "@/state/useMarked";
import { useShortcuts } from "@/state/useShortcuts";
import { KINDS, useKindNamed } from "@/state/useKind";
import { useMarket, useNamed } from "@/state/useMarket";

const NOT_FOUND = 404;
const CompareChart = defineAsyncComponent(() => import("@/charts/CompareChart.vue"));

const route = useRoute();
const router = useRouter();
const { market } = useMarket();
useTabTitle("Side by side");
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
const beside = useQuery(
  computed(() => ({
    ...acrossQueries.beside(
      kind.of,
      market.value?.market_id ?? "",
      rows.value.map((row) => row.id),
    ),
    enabled: Boolean(market.value) && rows.value.length > 1,
  })),
);
/** The figures of the rows that are shown; those before stay until others come. */
const lines = computed(() => {
  const { ids, lines } = beside.data.value ?? { ids: [], lines: [] };
  const same = ids.length === rows.value.length && ids.every((id, i) => id === rows.value[i]?.id);
  return same ? lines : [];
});
const columns = computed(() =>
  rows.value.map((row) => ({ key: row.id, currency: market.value?.currency ?? "" })),
);

const failure = computed(
  () =>
    previews.value.find((one) => one.error && !isUnknown(one.error))?.error ?? beside.error.value,
);
const retry = (): void => {
  for (const one of [...previews.value, beside]) void one.refetch();
};
const strips = computed(() =>
  rows.value.map((row) => ({
    profile: row.figures.season_profile,
    asOf: yearShare(market.value?.as_of ?? ""),
    arrival: yearShare(addDays(market.value?.planning_date ?? "", row.lead_days)),
    label: `Year strip of ${row.name}`,
  })),
);

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
      @retry="retry"
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
        <SideTable :lines="lines" :columns="columns" :currency="market.currency" :strips="strips">
          <template #head="{ at }">
            <template v-for="row in rows.slice(at, at + 1)" :key="row.id">
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
            </template>
          </template>
          <template #before>
            <tr>
              <th v-explain="'growth-split'" scope="row">13 weeks: season, drift</th>
              <td v-for="row in rows" :key="row.id">
                <GrowthBars
                  :season="row.figures.growth_13w_season"
                  :drift="row.figures.growth_13w_drift"
                />
              </td>
            </tr>
          </template>
          <template #after>
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
          </template>
        </SideTable>
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
