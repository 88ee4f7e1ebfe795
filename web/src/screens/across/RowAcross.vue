<script setup lang="ts">
import { useQueries } from "@tanstack/vue-query";
import { computed, defineAsyncComponent, ref } from "vue";
import type { AcrossMarkets, MarketBeside } from "@/api/across";
import type { MarketSummary } from "@/api/client";
import { previewQueries } from "@/api/previews";
import { formatDay, addDays, yearShare } from "@/format/values";
import SideTable from "@/screens/parts/beside/SideTable.vue";
import { type KindWords, KINDS } from "@/state/useKind";
import SelectField from "@/ui/SelectField.vue";
import type { CurveOfRow } from "@/charts/curvePreview";
import MarketLacking from "./MarketLacking.vue";
import RateLine from "./RateLine.vue";

/** One row in all markets that have it: curves, seasons against one another, who moves first, figures. */
const props = defineProps<{
  kind: KindWords;
  found: AcrossMarkets;
  markets: MarketSummary[];
  busy: boolean;
}>();
const emit = defineEmits<{
  match: [other: string, row: { id: string; name: string }];
  refuse: [other: string, row: { id: string; name: string }];
  part: [match: number | null, other: MarketBeside];
  rate: [currency: string, rate: number | null, day: string];
  into: [currency: string];
}>();

const CompareChart = defineAsyncComponent(() => import("@/charts/CompareChart.vue"));

const previews = useQueries({
  queries: computed(() =>
    props.found.markets.map((one) => previewQueries.compared(props.kind.of, one.market_id, one.id)),
  ),
});
const rows = computed(() => previews.value.map((one) => one.data));
/** The curves under the names of their markets, with or without their seasons. */
const curves = computed<CurveOfRow[]>(() =>
  props.found.markets.flatMap(({ market_id, market, curve }) =>
    curve
      ? [
          {
            id: market_id,
            name: market,
            period: curve.period,
            first: curve.first,
            values: (season.value === "out" ? curve.without : null) ?? curve.values,
          },
        ]
      : [],
  ),
);
const season = ref<"in" | "out">("in");
const SEASONS = [
  { title: "as they came", value: "in" as const },
  { title: "without their seasons", value: "out" as const },
];
const indexed = ref(true);
const columns = computed(() =>
  props.found.markets.map((one) => ({ key: one.market_id, currency: one.currency })),
);
const summaryOf = (id: string): MarketSummary | undefined =>
  props.markets.find((one) => one.market_id === id);
const strips = computed(() =>
  props.found.markets.map((one, at) => {
    const [row, market] = [rows.value[at], summaryOf(one.market_id)];
    return {
      profile: row?.figures.season_profile ?? null,
      asOf: yearShare(one.as_of),
      arrival: yearShare(addDays(market?.planning_date ?? one.as_of, row?.lead_days ?? 0)),
      label: `Year strip of ${one.name} in ${one.market}`,
    };
  }),
);
const currencies = computed(() => [
  ...new Set(props.found.markets.map((one) => one.currency).filter(Boolean)),
]);
/** Currencies whose rate matters, once each. */
const foreign = computed(() => [
  ...new Map(
    props.found.markets
      .filter((one) => one.currency && one.currency !== props.found.currency)
      .map((one) => [one.currency, one] as const),
  ).values(),
]);

const HOW = { itself: "", id: "matched by id", confirmed: "match confirmed" } as const;
const toRow = (one: MarketBeside) => ({
  path: props.kind.of === KINDS.niches.of ? "/dossier" : props.kind.home,
  query: { market: one.market_id, [props.kind.named]: one.id },
});
</script>

<template>
  <section aria-labelledby="summary">
    <h2 id="summary" class="unseen">Summary</h2>
    <template v-for="one in found.against" :key="one.market_id">
      <p class="serif">
        <span v-explain="'season-shift'">{{ one.seasons }}</span>
      </p>
      <p v-if="one.lead_sentence" class="serif">
        <span v-explain="'lead'">{{ one.lead_sentence }}</span>
      </p>
    </template>
    <p v-if="found.markets.length > 1" class="serif">{{ found.competition }}</p>
    <p v-else class="serif">
      Not matched in any other market yet: none has its id, and no match was confirmed.
    </p>
    <MarketLacking
      v-for="one in found.without"
      :key="one.market_id"
      :kind="kind"
      :row="found.markets[0]"
      :other="one"
      :busy="busy"
      @match="emit('match', one.market_id, $event)"
      @refuse="emit('refuse', one.market_id, $event)"
    />
  </section>
  <section v-if="found.markets.length > 1" aria-label="Curves and figures">
    <div class="over">
      <SelectField v-model="season" label="With or without their seasons" :items="SEASONS" />
      <v-checkbox v-model="indexed" label="each against its own mean" />
      <span v-if="currencies.length > 1"
        >amounts in
        <SelectField
          label="Currency of amounts"
          :model-value="found.currency"
          :items="currencies.map((one) => ({ title: one, value: one }))"
          @update:model-value="emit('into', String($event))"
        />
      </span>
    </div>
    <CompareChart v-if="curves.length" class="chart" :rows="curves" :indexed="indexed" />
    <div class="small">
      <RateLine
        v-for="one in foreign"
        :key="one.currency"
        :market="one"
        :into="found.currency"
        :busy="busy"
        @set="(rate, day) => emit('rate', one.currency, rate, day)"
      />
    </div>
    <SideTable :lines="found.lines" :columns="columns" :currency="found.currency" :strips="strips">
      <template #head="{ at }">
        <template v-for="one in found.markets.slice(at, at + 1)" :key="one.market_id">
          <RouterLink class="name serif" :to="toRow(one)">{{ one.name }}</RouterLink>
          <span class="small where"
            >{{ one.market }}, as of {{ formatDay(one.as_of)
            }}<template v-if="HOW[one.how]"><br />{{ HOW[one.how] }}</template></span
          >
          <v-btn
            v-if="at > 0 && (one.how === 'id' || one.match_id !== null)"
            class="small"
            :disabled="busy"
            @click="emit('part', one.match_id, one)"
            >{{ one.how === "id" ? "Reject match" : "Undo match" }}</v-btn
          >
        </template>
      </template>
    </SideTable>
  </section>
</template>

<style scoped>
p {
  margin: 0 0 4px;
}

.serif {
  font-size: 15px;
  line-height: 1.4;
}

.over {
  display: flex;
  align-items: baseline;
  gap: 18px;
  margin-top: 10px;
}

.chart {
  height: 220px;
}

.name {
  display: block;
  color: var(--ink);
  font-size: 17px;
  line-height: 1.2;
}

.where {
  display: block;
}
</style>
