<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { useRoute } from "vue-router";
import type { ApiError } from "@/api/client";
import type { ListingPreview } from "@/api/rivals";
import { rivalsQueries } from "@/api/rivals";
import HistoryChart from "@/charts/HistoryChart.vue";
import { formatMoney } from "@/format/money";
import { formatCount, formatDay, formatShare, UNKNOWN } from "@/format/values";
import { KINDS, provideKind } from "@/state/useKind";
import { useMarket } from "@/state/useMarket";
import { usePreview } from "@/state/usePreview";
import { useTabTitle } from "@/state/useTabTitle";
import RivalPage from "./RivalPage.vue";
import SaidBeside from "./SaidBeside.vue";

/** One listing on a page of its own. */
provideKind(KINDS.listings);
const route = useRoute();
const { market } = useMarket();
const id = computed(() => String(route.query["listing"] ?? ""));
const preview = usePreview(() => market.value?.market_id, id);
const subject = computed(() =>
  preview.data.value?.id === id.value ? preview.data.value : undefined,
);
/** The same with what a listing alone has. */
const listing = computed(() => subject.value as unknown as ListingPreview | undefined);
const page = useQuery(
  computed(() => ({
    ...rivalsQueries.page(market.value?.market_id ?? "", id.value),
    enabled: Boolean(market.value && id.value),
  })),
);
useTabTitle(computed(() => subject.value?.name ?? "Listing"));
const failure = computed(() => (preview.error.value ?? page.error.value) as ApiError | null);

const f = computed(() => listing.value?.figures);
/** What one asks first, each with the figure that explains it. */
const facts = computed(() => {
  const of = f.value;
  if (!of) return [];
  const estimated = of.sales_units_52w === null && of.listing_estimated_units !== null;
  return [
    { head: "price now", of: "listing.price", text: formatMoney(of.listing_price) },
    { head: "of the year", of: "listing.price_low_52w", text: `${formatMoney(of.listing_price_low_52w)} to ${formatMoney(of.listing_price_high_52w)}` },
    { head: "low tenth of the year", of: "listing.price_floor", text: formatMoney(of.listing_price_floor) },
    estimated
      ? { head: "units a year, estimated", of: "listing.estimated_units", text: `${formatCount(of.listing_estimated_units)} (${formatCount(of.listing_estimated_low)}–${formatCount(of.listing_estimated_high)})` }
      : { head: "units a year", of: "sales.units_52w", text: formatCount(of.sales_units_52w) },
    { head: "sales rank", of: "listing.sales_rank", text: formatCount(of.listing_sales_rank) },
    { head: "reviews", of: "listing.reviews", text: formatCount(of.listing_reviews) },
    { head: "offers", of: "listing.offers", text: formatCount(of.listing_offers) },
    { head: "in stock", of: "listing.in_stock", text: formatShare(of.listing_in_stock) },
    { head: "launched", of: "listing.launched_on", text: of.listing_launched_on ? formatDay(of.listing_launched_on) : UNKNOWN },
  ];
}); // prettier-ignore
const held = computed(() =>
  (page.data.value?.held ?? []).map(
    (one) =>
      `${one.seller} from ${formatDay(one.first)}, ${one.periods} ${one.periods === 1 ? "period" : "periods"}`,
  ),
);

const sellers = computed(() => [...new Set(page.data.value?.sellers.map((one) => one.id) ?? [])]);
const within = computed(() => ({ market: market.value?.market_id }));
const toListing = (one: string) => ({ path: "/listing", query: { ...within.value, listing: one } });
</script>

<template>
  <RivalPage
    :subject="subject"
    :facts="facts"
    :failure="failure"
    @retry="(preview.refetch(), page.refetch())"
  >
    <template v-if="subject && listing" #under>
      {{
        [
          subject.category,
          listing.brand && `brand ${listing.brand}`,
          listing.seller && `names seller ${listing.seller}`,
          subject.id,
        ]
          .filter(Boolean)
          .join(" · ")
      }}
      <template v-if="subject.niche">
        · in niche
        <RouterLink :to="{ path: '/dossier', query: { ...within, niche: subject.niche } }">{{
          subject.niche_name
        }}</RouterLink></template
      >
    </template>
    <template v-if="listing" #acts>
      <RouterLink
        v-if="listing.brand"
        :to="{ path: '/brand', query: { ...within, brand: listing.brand } }"
        >Its brand</RouterLink
      >
      <RouterLink
        v-if="listing.seller"
        :to="{ path: '/seller', query: { ...within, seller: listing.seller } }"
        >Its seller</RouterLink
      >
    </template>
    <template v-if="page.data.value">
      <section aria-label="Its past">
        <h2 class="serif">Its past</h2>
        <HistoryChart
          v-if="page.data.value.curves.length"
          :title="subject?.name ?? ''"
          :curves="page.data.value.curves"
        />
        <p v-else class="small">Nothing of its past is known: import listing_weeks to see it.</p>
        <p v-if="held.length" class="small">Lead offer: {{ held.join("; ") }}</p>
        <p v-else class="small">
          Import lead_seller_id in listing_weeks to see who held the lead offer.
        </p>
      </section>
      <SaidBeside :id="id" of="listings" :market="market?.market_id" />
      <div class="tables">
        <section aria-label="Who sells it">
          <h2 class="serif">Who sells it</h2>
          <v-table v-if="page.data.value.sellers.length" density="compact">
            <thead>
              <tr>
                <th scope="col" data-tip="Seller with an offer, now or before.">seller</th>
                <th scope="col" data-tip="First seen with an offer.">since</th>
                <th scope="col" data-tip="Last seen with it; now while it stands.">until</th>
                <th scope="col" data-tip="Who stores the goods and sends them.">sent by</th>
                <th
                  scope="col"
                  class="number"
                  data-tip="Share of the last year’s periods in which it held the lead offer."
                >
                  lead offer
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in page.data.value.sellers" :key="`${one.id} ${one.since}`">
                <th scope="row">
                  <RouterLink :to="{ path: '/seller', query: { ...within, seller: one.id } }">{{
                    one.name
                  }}</RouterLink>
                </th>
                <td>{{ one.since ? formatDay(one.since) : UNKNOWN }}</td>
                <td>{{ one.until ? formatDay(one.until) : "now" }}</td>
                <td>{{ one.fulfilment || UNKNOWN }}</td>
                <td class="number">{{ formatShare(one.lead) }}</td>
              </tr>
            </tbody>
          </v-table>
          <p v-else class="small">Nobody is known to: import offers, or seller_id in listings.</p>
          <p v-if="sellers.length > 1" class="small">
            <RouterLink
              :to="{ path: '/rivals/together', query: { ...within, sellers: sellers.join('\n') } }"
              >What these sellers carry together</RouterLink
            >
          </p>
        </section>
        <section aria-label="What leads to it">
          <h2 class="serif">What leads to it</h2>
          <v-table v-if="page.data.value.terms.length" density="compact">
            <thead>
              <tr>
                <th v-explain="'term'" scope="col">term</th>
                <th
                  scope="col"
                  class="number"
                  data-tip="Share of the clicks after the term that go to this listing, in the latest weeks."
                >
                  of its clicks
                </th>
                <th v-explain:figure="'searches_52w'" scope="col" class="number">searches/yr</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in page.data.value.terms" :key="one.term">
                <th scope="row">
                  <RouterLink :to="{ path: '/terms', query: { ...within, term: one.term } }">{{
                    one.term
                  }}</RouterLink>
                </th>
                <td class="number">{{ formatShare(one.share) }}</td>
                <td class="number">{{ formatCount(one.searches) }}</td>
              </tr>
            </tbody>
          </v-table>
          <p v-else class="small">No term is known after which it is clicked.</p>
        </section>
        <section v-if="page.data.value.beside.length" aria-label="Others in its niche">
          <h2 class="serif">Others in its niche</h2>
          <v-table density="compact">
            <thead>
              <tr>
                <th v-explain="'listing'" scope="col">listing</th>
                <th v-explain:figure="'listing.price'" scope="col" class="number">price</th>
                <th v-explain:figure="'sales.units_52w'" scope="col" class="number">units/yr</th>
                <th v-explain:figure="'listing.reviews'" scope="col" class="number">reviews</th>
                <th v-explain:figure="'sleep.state'" scope="col">sleeper</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in page.data.value.beside" :key="one.id">
                <th scope="row" :aria-current="one.id === id ? 'true' : undefined">
                  <b v-if="one.id === id">{{ one.name }}</b>
                  <RouterLink v-else :to="toListing(one.id)">{{ one.name }}</RouterLink>
                </th>
                <td class="number">{{ formatMoney(one.listing_price) }}</td>
                <td class="number">{{ formatCount(one.sales_units_52w) }}</td>
                <td class="number">{{ formatCount(one.listing_reviews) }}</td>
                <td>{{ one.sleep_state ?? UNKNOWN }}</td>
              </tr>
            </tbody>
          </v-table>
        </section>
      </div>
    </template>
  </RivalPage>
</template>
