<script setup lang="ts">
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import type { FigureRow, MarketSummary, NichePreview, Schemas } from "@/api/client";
import { type CurveKey, nicheQueries } from "@/api/niche";
import PairChart from "@/charts/PairChart.vue";
import PriceAnswerChart from "@/charts/PriceAnswerChart.vue";
import ProfileChart from "@/charts/ProfileChart.vue";
import { formatDay } from "@/format/values";
import FigureTable from "./FigureTable.vue";
import SelectField from "@/ui/SelectField.vue";

type Curve = Schemas["NicheCurve"];

const props = defineProps<{
  niche: NichePreview;
  figures: FigureRow[];
  market: MarketSummary;
  curves: Curve[];
  demand: Schemas["DemandDetail"];
}>();
defineEmits<{ working: [figure: string] }>();

const DATES = [
  "shape", "feast", "order_by", "order_in_days", "rise_week", "peak_weeks", "second_peak_weeks",
  "end_week", "quiet_weeks", "best13", "best4", "recurrence", "season_moved",
]; // prettier-ignore
const LAGS = [
  "purchase_lag.weeks", "purchase_lag.low", "purchase_lag.high", "price_answer.correlation",
  "price_answer.low", "price_answer.high",
]; // prettier-ignore
const MODES = [
  { key: "raw", label: "as they came" },
  { key: "calm", label: "season taken out" },
  { key: "indexed", label: "each against its own mean" },
] as const;

const one = ref<CurveKey>("searches");
const other = ref<CurveKey>("purchases");
const mode = ref<(typeof MODES)[number]["key"]>("raw");
const named = computed(() =>
  props.curves.map((curve) => ({ title: curve.label.toLowerCase(), value: curve.key })),
);
const chosen = computed(() => [one.value, ...(other.value === one.value ? [] : [other.value])]);
const calm = useQuery(
  computed(() => ({
    ...nicheQueries.deseasonalised(props.market.market_id, props.niche.id, chosen.value),
    enabled: mode.value === "calm" && props.curves.length > 0,
    placeholderData: keepPreviousData,
  })),
);
const shown = computed(() => (mode.value === "calm" && calm.data.value) || props.curves);
const curveOf = (key: string): Curve | undefined => shown.value.find((c) => c.key === key);
const first = computed(() => curveOf(one.value) ?? shown.value[0]);
const second = computed(() => (other.value === one.value ? undefined : curveOf(other.value)));
/** Curves in which no season was found, which stay as they came. */
const level = computed(() =>
  mode.value === "calm"
    ? [first.value, second.value].filter((c) => c && !c.seasonal).map((c) => c?.label.toLowerCase())
    : [],
);
const lag = computed(() =>
  one.value === "searches" && other.value === "purchases"
    ? props.niche.figures.purchase_lag_weeks
    : null,
);

const dates = computed(() => {
  const made = props.demand.dates;
  if (!made) return [];
  return [
    { label: "order by", date: formatDay(made.order_by) },
    { label: "on sale by", date: formatDay(made.list_by) },
    {
      label: "peak",
      date:
        made.peak_from && made.peak_to
          ? `${formatDay(made.peak_from)} to ${formatDay(made.peak_to)}`
          : "none to plan for",
    },
    { label: "wind down by", date: formatDay(made.wind_down) },
  ];
});

const answer = computed(() => {
  const { price_answer_low: low, price_answer_high: high } = props.niche.figures;
  if (low === null || high === null) return "Whether price moves the purchase rate is not known.";
  if (high < 0) return "When the price falls, the purchase rate rises: buyers wait for discounts.";
  if (low > 0) return "The purchase rate rises with the price, which no discount would explain.";
  return "No answer of the purchase rate to the price is told from chance.";
});
</script>

<template>
  <ProfileChart
    v-if="demand.profile"
    class="profile"
    :niche="niche"
    :market="market"
    :demand="demand"
  />
  <p v-else class="small">
    Two years of term_weeks would bring the season profile; there are {{ niche.figures.periods }}
    {{ niche.period }}s.
  </p>
  <dl v-if="dates.length" class="dates" aria-label="Dates of the next season">
    <div v-for="{ label, date } in dates" :key="label">
      <dt class="small">{{ label }}</dt>
      <dd>{{ date }}</dd>
    </div>
    <div>
      <dt class="small">lead time</dt>
      <dd>{{ market.lead_days }} days</dd>
    </div>
  </dl>
  <div v-if="first" class="choose">
    <span>Lay <SelectField v-model="one" label="The first curve" :items="named" /></span>
    <span>over <SelectField v-model="other" label="The second curve" :items="named" /></span>
    <v-radio-group v-model="mode" aria-label="How the curves are drawn">
      <v-radio v-for="{ key, label } in MODES" :key="key" :value="key" :label="label" />
    </v-radio-group>
    <span v-if="level.length" class="small">no season found in {{ level.join(" and ") }}</span>
  </div>
  <PairChart
    v-if="first"
    class="pair"
    :first="first"
    :second="second"
    :indexed="mode === 'indexed'"
    :lag="mode === 'calm' ? null : lag"
  />
  <div class="beside">
    <FigureTable
      :niche="niche"
      :figures="figures"
      :keys="DATES"
      @working="$emit('working', $event)"
    />
    <div>
      <FigureTable
        :niche="niche"
        :figures="figures"
        :keys="LAGS"
        @working="$emit('working', $event)"
      />
      <template v-if="demand.price_steps.length">
        <p class="answer">{{ answer }}</p>
        <PriceAnswerChart class="scatter" :steps="demand.price_steps" />
      </template>
      <p v-else class="small">
        purchases in term_weeks and price in listing_weeks would bring how the purchase rate answers
        the price.
      </p>
    </div>
  </div>
</template>

<style scoped>
.profile {
  height: 230px;
}

.dates {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 34px;
  margin: 6px 0 14px;
}

dd {
  margin: 0;
  font-weight: 600;
}

.choose {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 6px 14px;
  margin: 0 0 4px;
}

.pair {
  height: 230px;
  margin-bottom: 12px;
}

.answer {
  margin: 10px 0 4px;
}

.scatter {
  height: 220px;
}
</style>
