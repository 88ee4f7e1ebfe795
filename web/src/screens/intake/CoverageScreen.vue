<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { Schemas } from "@/api/client";
import { intakeQueries } from "@/api/intake";
import { previewQueries } from "@/api/previews";
import { registryQueries } from "@/api/registry";
import EmptyView from "@/ui/EmptyView.vue";
import { formatDay, formatShare, stepDay } from "@/format/values";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useMarket } from "@/state/useMarket";
import { useTabTitle } from "@/state/useTabTitle";
import CoverageBands from "./CoverageBands.vue";
import { periodOf, describeCoverage } from "./describeCoverage";
import SelectField from "@/ui/SelectField.vue";

type Row = Schemas["CoverageRow"];

const route = useRoute();
const router = useRouter();
const { market, id } = useMarket();
const text = (name: string): string | undefined => {
  const value = route.query[name];
  return typeof value === "string" && value ? value : undefined;
};
const niche = computed(() => text("niche"));
const category = computed(() => text("category"));
const ask = computed(() => ({
  ...(id.value ? { market: id.value } : {}),
  ...(niche.value ? { niche: niche.value } : {}),
  ...(category.value ? { category: category.value } : {}),
}));
const coverage = useQuery(computed(() => intakeQueries.coverage(ask.value)));
const categories = useQuery(computed(() => registryQueries.categories(id.value)));
const inCategory = computed(() =>
  categories.data.value?.find((one) => one.category_id === category.value),
);
const choices = computed(() => [
  { title: "all", value: "" },
  ...(categories.data.value ?? []).map((one) => ({ title: one.path, value: one.category_id })),
]);
function choose(chosen: string): void {
  void router.push({ query: { market: id.value, ...(chosen ? { category: chosen } : {}) } });
}
const named = useQuery(
  computed(() => ({
    ...previewQueries.niche(id.value ?? "", niche.value ?? ""),
    enabled: Boolean(id.value && niche.value),
  })),
);
const title = computed(() =>
  niche.value
    ? (named.data.value?.name ?? niche.value)
    : (inCategory.value?.path ?? category.value ?? market.value?.name),
);

useTabTitle(() => `Data coverage${title.value ? `: ${title.value}` : ""}`);

/** The share known in each year: the mean over its periods. */
function byYear(row: Row): { year: string; share: number }[] {
  const years = new Map<string, number[]>();
  row.share.forEach((share, i) => {
    const year = stepDay(row.first, i, periodOf(row)).slice(0, 4);
    years.set(year, [...(years.get(year) ?? []), share]);
  });
  return [...years].map(([year, all]) => ({
    year,
    share: all.reduce((sum, one) => sum + one, 0) / all.length,
  }));
}
</script>

<template>
  <div class="coverage">
    <MarketGate
      :pending="!market || (coverage.isError.value && !coverage.data.value)"
      :failure="coverage.error.value"
      @retry="coverage.refetch()"
    >
      <template v-if="market">
        <h1 class="serif">Data coverage: {{ title }}</h1>
        <p class="lead">
          Read up to {{ formatDay(market.as_of) }}. {{ market.note }}
          <v-btn v-if="niche || category" :to="{ path: '/coverage', query: { market: id } }"
            >All of {{ market.name }}</v-btn
          >
          <span v-if="!niche && categories.data.value?.length" class="within"
            >Category
            <SelectField
              label="Category"
              :model-value="category ?? ''"
              :items="choices"
              @update:model-value="choose"
          /></span>
          <v-btn :to="{ path: '/intake', query: { market: id } }">Imports</v-btn>
        </p>
        <p v-if="coverage.isPending.value" role="status">Looking it up …</p>
        <EmptyView
          v-else-if="!coverage.data.value?.length"
          title="Nothing is known by week or month"
          text="No table of figures names it. The name may be wrong, or its import was undone."
        />
        <section v-for="row in coverage.data.value" :key="row.table" :aria-label="row.table">
          <h2 class="serif">
            {{ row.table }}
            <span class="small">{{ formatDay(row.first) }} to {{ formatDay(row.last) }}</span>
          </h2>
          <p>{{ describeCoverage(row) }}</p>
          <CoverageBands
            :bands="row.bands"
            :first="row.first"
            :period="periodOf(row)"
            :label="`${row.what} of ${row.table} by ${row.period}, how many are known`"
          />
          <v-table>
            <caption>
              Share known, mean of each year
            </caption>
            <tbody>
              <tr>
                <th
                  v-for="one in byYear(row)"
                  :key="one.year"
                  v-explain="'coverage'"
                  scope="col"
                  class="number small"
                >
                  {{ one.year }}
                </th>
              </tr>
              <tr>
                <td v-for="one in byYear(row)" :key="one.year" class="number">
                  {{ one.share > 0 && one.share < 0.005 ? "under 1%" : formatShare(one.share) }}
                </td>
              </tr>
            </tbody>
          </v-table>
        </section>
        <p v-if="coverage.data.value?.length" class="small">
          Each row of a picture is a group of {{ coverage.data.value[0]?.what }} or listings, the
          earliest known on top: pale where few of the group are known, deep where all are, blank
          where none is.
        </p>
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.coverage {
  height: 100%;
  overflow-y: auto;
  padding: 16px var(--gutter) 30px;
  box-sizing: border-box;
}

h1 {
  font-size: 22px;
  margin: 0 0 4px;
  overflow-wrap: anywhere;
}

h2 {
  font-size: 16px;
  margin: 0;
}

.lead {
  margin: 0 0 12px;
}

.within,
.lead .v-btn {
  margin-left: 14px;
}

section {
  border-top: 1px solid var(--rule);
  padding: 10px 0 14px;
}

section p {
  margin: 0 0 6px;
}

.v-table :deep(table) {
  margin-top: 4px;
}

caption {
  white-space: nowrap;
}
</style>
