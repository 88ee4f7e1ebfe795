<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import type { MarketSummary, NichePreview } from "@/api/client";
import { nicheQueries } from "@/api/niche";
import SortButton from "@/ui/SortButton.vue";
import HistoryChart from "@/charts/HistoryChart.vue";
import ProtectedMark from "@/marks/ProtectedMark.vue";
import TrendStrip from "@/marks/TrendStrip.vue";
import { formatCount, formatDay, formatShare, UNKNOWN } from "@/format/values";
import { formatMoney } from "@/format/money";
import type { Listing } from "./ladder";

/** The most clicked listings, sorted by any fact; each opens its own history. */
const props = defineProps<{ market: MarketSummary; niche: NichePreview; listings: Listing[] }>();

interface Head {
  key: keyof Listing;
  head: string;
  format: (one: Listing) => string;
  words?: boolean;
}
const attributes = (one: Listing): string => Object.values(one.attributes).join(", ");
const HEADS: Head[] = [
  { key: "click_share", head: "clicks", format: (one) => formatShare(one.click_share) },
  { key: "price", head: "price", format: (one) => formatMoney(one.price) },
  { key: "rating", head: "rating", format: (one) => one.rating?.toFixed(1) ?? UNKNOWN },
  { key: "reviews", head: "reviews", format: (one) => formatCount(one.reviews) },
  { key: "units_52w", head: "units a year", format: (one) => formatCount(one.units_52w) },
  { key: "revenue_52w", head: "revenue", format: (one) => formatMoney(one.revenue_52w) },
  { key: "sales_rank", head: "rank", format: (one) => formatCount(one.sales_rank) },
  { key: "offers", head: "offers", format: (one) => formatCount(one.offers) },
  { key: "quality", head: "page", format: (one) => formatCount(one.quality) },
  { key: "weight_g", head: "weight, g", format: (one) => formatCount(one.weight_g) },
  { key: "return_rate", head: "returns", format: (one) => formatShare(one.return_rate) },
  { key: "launched_on", head: "launched", format: (one) => (one.launched_on ? formatDay(one.launched_on) : UNKNOWN) },
  { key: "brand", head: "brand", format: (one) => one.brand ?? UNKNOWN, words: true },
]; // prettier-ignore

const EXPLAINED: Partial<Record<keyof Listing, string>> = {
  click_share: "Share of the clicks after the niche’s terms that go to it, in the latest weeks.",
  click_share_52w_ago: "The same share in the same weeks a year before.",
  price: "Its latest price.",
  rating: "Average of its ratings, of 5 stars.",
  reviews: "How many reviews it has.",
  units_52w: "Units it sold in the last 52 weeks, over all its terms.",
  revenue_52w: "Units × price of the last 52 weeks.",
  sales_rank: "Its place by sales in its category; 1 sells best.",
  offers: "How many sellers offer it.",
  quality: "How well its page is made, of 100.",
  weight_g: "What it weighs, packed.",
  return_rate: "Share of what is bought that is returned.",
  launched_on: "When it was first on sale.",
  brand: "The brand on the product.",
};
const by = ref<{ key: keyof Listing; down: boolean }>({ key: "click_share", down: true });
function sortBy(key: keyof Listing): void {
  by.value = { key, down: by.value.key === key ? !by.value.down : true };
}
/** Unknown comes last either way. */
const rows = computed(() => {
  const { key, down } = by.value;
  return [...props.listings].sort((a, b) => {
    const [x, y] = [a[key], b[key]];
    if (x === null || x === undefined) return 1;
    if (y === null || y === undefined) return -1;
    const order = typeof x === "string" ? x.localeCompare(y as string) : Number(x) - Number(y);
    return down ? -order : order;
  });
});

const open = ref("");
const history = useQuery(
  computed(() => ({
    ...nicheQueries.listingHistory(props.market.market_id, props.niche.id, open.value),
    enabled: open.value !== "",
  })),
);
const look = (id: string): void => void (open.value = open.value === id ? "" : id);
const held = computed(() =>
  (history.data.value?.held ?? []).map(
    (one) =>
      `${one.seller} from ${formatDay(one.first)}, ${one.periods} ${one.periods === 1 ? "period" : "periods"}`,
  ),
);
</script>

<template>
  <div class="wide" tabindex="0" role="region" aria-label="The most clicked listings">
    <v-table class="wide-table listings">
      <caption>
        The
        {{
          listings.length
        }}
        most clicked listings; a click on a name opens its history
      </caption>
      <thead>
        <tr>
          <th v-explain="'listing'" scope="col">listing</th>
          <th v-explain="'units-curve'" scope="col">units, 2 years</th>
          <th
            v-for="head in HEADS"
            :key="head.key"
            :data-tip="EXPLAINED[head.key]"
            scope="col"
            :class="{ number: !head.words }"
            :aria-sort="by.key === head.key ? (by.down ? 'descending' : 'ascending') : undefined"
          >
            <SortButton
              :head="head.head"
              :order="by.key === head.key ? (by.down ? 'descending' : 'ascending') : undefined"
              @sort="sortBy(head.key)"
            />
          </th>
        </tr>
      </thead>
      <tbody>
        <template v-for="one in rows" :key="one.listing_id">
          <tr>
            <th scope="row">
              <v-btn
                variant="plain"
                class="name"
                :data-tip="one.title"
                :aria-expanded="open === one.listing_id"
                @click="look(one.listing_id)"
              >
                {{ one.title }}</v-btn><ProtectedMark
                :hint="one.protected && `Its title holds “${one.protected}”, a protected word.`"
              /><span class="small more" :data-tip="attributes(one)">{{
                [one.sponsored && "sponsored", attributes(one)].filter(Boolean).join(" · ")
              }}</span>
            </th>
            <td><TrendStrip :values="one.trend" :label="`Units of ${one.title}`" /></td>
            <td v-for="head in HEADS" :key="head.key" :class="{ number: !head.words }">
              {{ head.format(one) }}
            </td>
          </tr>
          <tr v-if="open === one.listing_id">
            <td :colspan="HEADS.length + 2" class="history">
              <p v-if="history.isPending.value" class="small" role="status">Looking …</p>
              <p v-else-if="history.error.value" role="alert">
                {{ (history.error.value as Error).message }}
              </p>
              <template v-else-if="history.data.value">
                <HistoryChart
                  v-if="history.data.value.curves.length"
                  :title="one.title"
                  :curves="history.data.value.curves"
                />
                <p v-else class="small">
                  Nothing of its past is known: import listing_weeks to see it.
                </p>
                <p v-if="held.length" class="small">Lead offer: {{ held.join("; ") }}</p>
                <p v-else class="small">
                  Import lead_seller_id in listing_weeks to see who held the lead offer.
                </p>
              </template>
            </td>
          </tr>
        </template>
      </tbody>
    </v-table>
  </div>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}

.listings {
  min-width: 900px;
  margin-bottom: 14px;
  font-size: 12px;
}

.listings th,
.listings td {
  padding: 2px 10px 3px 0;
  vertical-align: middle;
}

.listings thead th {
  vertical-align: bottom;
}

.listings tr > :last-child {
  padding-right: 0;
}

.more {
  display: block;
  max-width: 172px;
  overflow: clip visible;
  text-overflow: ellipsis;
}

th[scope="row"] {
  white-space: nowrap;
}

.name {
  max-width: 172px;
  overflow: clip visible;
  text-overflow: ellipsis;
  background: none;
  border: 0;
  padding: 2px 0;
  vertical-align: bottom;
  text-align: left;
  cursor: pointer;
}

.name:hover {
  text-decoration: underline;
}

.sort {
  font: 11px var(--condensed);
  color: var(--ink2);
  background: none;
  border: 0;
  padding: 6px 0 0;
  cursor: pointer;
  text-align: inherit;
}

.history {
  padding: 8px 0 14px;
}

.history > * {
  position: sticky;
  left: 0;
  max-width: 860px;
}

/* A wide table is made to fit the paper. */
@media print {
  .wide {
    overflow: visible;
    zoom: 0.55;
  }
}
</style>
