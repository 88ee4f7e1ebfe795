<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import type { ApiError, MarketSummary, Schemas } from "@/api/client";
import { catalogueQueries } from "@/api/catalogue";
import type { Category } from "@/api/previews";
import LorenzChart from "@/charts/LorenzChart.vue";
import PricesChart from "@/charts/PricesChart.vue";
import { formatCount, formatShare } from "@/format/values";
import ScreenGate from "@/ui/ScreenGate.vue";
import AttributeBars from "./AttributeBars.vue";
import ListingRows from "./ListingRows.vue";

/** What is sold in a category: by whom, how unevenly, at what prices, what is wanted, what comes back, leads and is new. */
const props = defineProps<{ category: Category; market: MarketSummary }>();
const found = useQuery(
  computed(() => catalogueQueries.sold(props.market.market_id, props.category.id)),
);
const sold = computed(() => found.data.value);
const failure = computed(() => found.error.value as ApiError | null);
/** Histograms of what buyers say, each with how an edge of it is written. */
const rated = computed(() =>
  sold.value
    ? [
        { name: "rating", bins: sold.value.ratings, told: (edge: number) => edge.toFixed(2) },
        { name: "reviews", bins: sold.value.reviews, told: formatCount },
      ]
    : [],
);
const HOLDERS: ("brands" | "sellers")[] = ["brands", "sellers"];
const FEW = 5;
const top = (one: Schemas["RevenueHolders"]) => one.top.slice(0, FEW);
</script>

<template>
  <ScreenGate :pending="!sold" :failure="failure" @retry="found.refetch()">
    <template v-if="sold && !sold.listings">
      <section aria-label="What sells">
        <h3>What sells</h3>
        <p class="serif">No listing is known to lie in it.</p>
      </section>
    </template>
    <div v-else-if="sold" class="two">
      <section aria-label="Who sells">
        <h3>Who sells</h3>
        <div v-for="name in HOLDERS" :key="name">
          <p class="serif">{{ sold[name].sentence }}</p>
          <table v-if="sold[name].top.length">
            <caption class="unseen">
              {{
                name
              }}
              by revenue
            </caption>
            <tbody>
              <tr v-for="one in top(sold[name])" :key="one.id">
                <th scope="row">{{ one.name }}</th>
                <td class="number small">{{ formatCount(one.listings) }} listings</td>
                <td class="number">{{ formatShare(one.share) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
      <section aria-label="How few carry it">
        <h3><span v-explain="'lorenz-curve'">How few carry it</span></h3>
        <p v-for="one in category.holders" :key="one" class="serif">{{ one }}</p>
        <LorenzChart
          v-if="sold.lorenz_listings.length"
          :listings="sold.lorenz_listings"
          :revenue="sold.lorenz_revenue"
          class="small-chart"
        />
      </section>
      <section aria-label="What it sells for">
        <h3>What it sells for</h3>
        <p class="serif">{{ sold.prices.sentence }}</p>
        <PricesChart v-if="sold.prices.edges.length" :prices="sold.prices" class="small-chart" />
      </section>
      <section aria-label="What is wanted">
        <h3><span v-explain="'wanted-value'">What is wanted</span></h3>
        <p class="serif">{{ sold.wanted }}</p>
        <p v-if="sold.attributes.length" class="small">
          filled: share of units · hollow: share of listings; named where the difference is beyond
          its 90% interval
        </p>
        <AttributeBars v-for="one in sold.attributes" :key="one.attribute" :attribute="one" />
      </section>
      <section aria-label="What leads">
        <h3>What leads</h3>
        <p v-if="sold.leaders_share" class="serif">{{ sold.leaders_share }}</p>
        <ListingRows :listings="sold.leaders" />
      </section>
      <section aria-label="What is new">
        <h3>What is new</h3>
        <p v-for="one in category.newness" :key="one" class="serif">{{ one }}</p>
        <p v-if="sold.newest_share" class="serif">{{ sold.newest_share }}</p>
        <ListingRows :listings="sold.newest" fresh />
      </section>
      <section aria-label="What comes back">
        <h3>What comes back</h3>
        <p class="serif">{{ sold.returned.sentence }}</p>
        <table v-if="sold.returned.reasons.length">
          <caption class="small">
            reasons, share of
            {{
              formatCount(sold.returned.mentions)
            }}
            mentions · in
            {{
              sold.returned.beside
            }}
          </caption>
          <tbody>
            <tr v-for="one in sold.returned.reasons" :key="one.theme">
              <th scope="row">{{ one.theme }}</th>
              <td class="number">
                {{ formatShare(one.share) }}
                <span class="small">{{ formatShare(one.low) }}–{{ formatShare(one.high) }}</span>
              </td>
              <td class="number small">{{ formatShare(one.beside) }} {{ one.says }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section aria-label="How it is rated">
        <h3>How it is rated</h3>
        <p
          v-if="
            category.figures.barriers_rating !== null || category.figures.review_barrier !== null
          "
          class="serif"
        >
          The ten most clicked have a rating of
          {{ category.figures.barriers_rating?.toFixed(1) ?? "–" }} and
          {{ formatCount(category.figures.review_barrier) }} reviews in the middle.
        </p>
        <table v-for="{ name, bins, told } in rated" :key="name">
          <caption class="small">
            listings by
            {{
              name
            }}<template v-if="bins.unknown">, unknown of {{ formatCount(bins.unknown) }}</template>
          </caption>
          <tbody>
            <tr v-for="(many, i) in bins.counts" :key="i">
              <th scope="row">
                {{ told(bins.edges[i] ?? 0) }} – {{ told(bins.edges[i + 1] ?? 0) }}
              </th>
              <td class="number">{{ formatCount(many) }}</td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
  </ScreenGate>
</template>

<style scoped src="./rows.css"></style>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(320px, 100%), 1fr));
  gap: 0 24px;
}

section {
  min-width: 0;
}

.small-chart {
  height: 170px;
}
</style>
