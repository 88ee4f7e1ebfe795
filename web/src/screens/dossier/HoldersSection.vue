<script setup lang="ts">
import { computed } from "vue";
import type { FigureRow, MarketSummary, NichePreview, Schemas } from "@/api/client";
import LaunchChart from "@/charts/LaunchChart.vue";
import SpreadChart from "@/charts/SpreadChart.vue";
import { formatCount, formatShare, UNKNOWN } from "@/format/values";
import { formatMoney, moneyUnit } from "@/format/money";
import ClickLadder from "./ClickLadder.vue";
import FigureTables from "./FigureTables.vue";
import { brandRungs, listingRungs } from "./ladder";
import OverruleField from "./OverruleField.vue";
import LeadHolders from "./LeadHolders.vue";
import ListingTable from "./ListingTable.vue";

const props = defineProps<{
  market: MarketSummary;
  niche: NichePreview;
  figures: FigureRow[];
  holders: Schemas["Holders"];
}>();
defineEmits<{ working: [figure: string] }>();

const KEYS = [
  "competition_parts.hhi_listings", "competition_parts.effective_listings",
  "competition_parts.click_breadth", "competition_parts.top3_share", "competition_parts.top_brand_share",
  "competition_parts.accounted", "review_barrier", "barriers.few_reviews", "barriers.rating",
]; // prettier-ignore
const NEW = [
  "entry.launches_26w", "entry.launches_52w", "entry.judged", "entry.successes", "entry.success_rate",
  "entry.bar", "entry.units_per_review", "entry.winners_price", "entry.winners_mark",
  "pressure.price_change", "pressure.offers_lead",
]; // prettier-ignore
const FACTS = [
  { key: "price", label: "Price", unit: "currency" },
  { key: "reviews", label: "Reviews", unit: "" },
  { key: "rating", label: "Rating", unit: "of 5" },
  { key: "age_days", label: "Age", unit: "days" },
];
const DIFFERING: Record<string, { label: string; format: (value: number | null) => string }> = {
  price: { label: "price", format: formatMoney },
  quality: { label: "page quality, of 100", format: formatCount },
  rating: { label: "rating", format: (value) => value?.toFixed(1) ?? UNKNOWN },
  reviews: { label: "reviews", format: formatCount },
  weight_g: { label: "weight, g", format: formatCount },
  return_rate: { label: "return rate", format: formatShare },
};

const spreads = computed(() =>
  FACTS.flatMap((fact) => {
    const spread = props.holders.spreads[fact.key];
    const unit = moneyUnit(fact.unit);
    return spread?.edges.length ? [{ ...fact, unit, spread }] : [];
  }),
);
const attributes = computed(() => {
  const made = new Map<string, Schemas["AttributeValue"][]>();
  for (const one of props.holders.attributes)
    made.set(one.attribute, [...(made.get(one.attribute) ?? []), one]);
  return [...made];
});
const winners = computed(() =>
  props.holders.winners.filter((one) => one.winners !== null && one.others !== null),
);
</script>

<template>
  <template v-if="holders.listings.length">
    <p class="small">
      Bar: share of the clicks now; tick: a year ago; line: together with those above.
    </p>
    <div class="ladders">
      <ClickLadder :rungs="listingRungs(holders.listings).slice(0, 12)" caption="Listings" />
      <ClickLadder
        :rungs="brandRungs(holders.listings).slice(0, 12)"
        caption="Brands of these listings"
      />
    </div>
    <ListingTable :market="market" :niche="niche" :listings="holders.listings" />
    <OverruleField
      :market="market.market_id"
      :niche="niche"
      setting="review_limit"
      label="Review limit: what I can compete with"
    />
    <h3>What they are like</h3>
    <p class="small">Filled: share of the clicks; outline with its number: listings.</p>
    <div class="spreads">
      <SpreadChart
        v-for="one in spreads"
        :key="one.key"
        :spread="one.spread"
        :fact="one.label"
        :unit="one.unit"
      />
    </div>
    <div v-if="attributes.length" class="beside">
      <v-table v-for="[attribute, values] in attributes" :key="attribute">
        <caption>
          Which
          {{
            attribute
          }}
          takes the clicks
        </caption>
        <thead>
          <tr>
            <th v-explain="'attribute'" scope="col">{{ attribute }}</th>
            <th v-explain="'click-share'" scope="col" class="number">clicks</th>
            <th v-explain="'attribute-listings'" scope="col" class="number">listings</th>
            <th v-explain="'attribute-units'" scope="col" class="number">units a year</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in values" :key="one.value">
            <th scope="row">{{ one.value }}</th>
            <td class="number">{{ formatShare(one.clicks) }}</td>
            <td class="number">{{ one.listings }}</td>
            <td class="number">{{ formatCount(one.units) }}</td>
          </tr>
        </tbody>
      </v-table>
    </div>
    <p v-else class="small">
      Import attr_ columns in listings to see colours, sizes and materials.
    </p>
    <LeadHolders :market="market.market_id" :niche="niche.id" :as-of="market.as_of" />
    <h3>Who came lately, and did it work</h3>
    <div class="beside">
      <LaunchChart
        v-if="holders.launches.length"
        :launches="holders.launches"
        :bar="holders.bar"
        :unit="holders.bar_unit"
        :until="market.as_of"
      />
      <p v-else class="small">
        {{
          niche.figures.entry_launches_52w === null
            ? "Import launched_on in listings to see the launches."
            : "Nothing was launched here within two years."
        }}
      </p>
      <v-table v-if="winners.length">
        <caption>
          Launches that worked beside the other listings, medians
        </caption>
        <thead>
          <tr>
            <td />
            <th v-explain="'launches-worked'" scope="col" class="number">worked</th>
            <th v-explain="'launches-others'" scope="col" class="number">others</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in winners" :key="one.fact">
            <th scope="row">{{ DIFFERING[one.fact]?.label ?? one.fact }}</th>
            <td class="number">{{ DIFFERING[one.fact]?.format(one.winners) }}</td>
            <td class="number">{{ DIFFERING[one.fact]?.format(one.others) }}</td>
          </tr>
        </tbody>
      </v-table>
      <p v-else-if="holders.launches.length" class="small">
        Fewer than two launches worked, so it is not said how they differ.
      </p>
    </div>
  </template>
  <FigureTables
    :niche="niche"
    :figures="figures"
    :groups="[KEYS, NEW]"
    @working="$emit('working', $event)"
  />
</template>

<style scoped>
.ladders {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 34px;
  margin-bottom: 16px;
}

h3 {
  font: 600 13px var(--sans);
  margin: 14px 0 4px;
}

.spreads {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 210px), 1fr));
  gap: 8px 24px;
  margin-bottom: 12px;
}

.spreads > figure {
  height: 150px;
}

.beside > .v-table {
  align-self: start;
}

@media (max-width: 820px) {
  .ladders {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
