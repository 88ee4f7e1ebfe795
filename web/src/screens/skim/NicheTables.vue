<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { nicheQueries } from "@/api/niche";
import { formatMoney } from "@/format/money";
import { formatCount, formatShare } from "@/format/values";
import "./tables.css";

/** What buyers type for a niche, and what they click. */
const props = defineProps<{ market: string; niche: string }>();

const BRIEF = 5;
const terms = useQuery(computed(() => nicheQueries.terms(props.market, props.niche)));
const listings = useQuery(computed(() => nicheQueries.listings(props.market, props.niche)));
</script>

<template>
  <v-table class="brief">
    <thead>
      <tr>
        <th v-explain="'term'" scope="col">terms</th>
        <th v-explain:figure="'searches_52w'" scope="col">searches/yr</th>
        <th v-explain="'purchase-rate'" scope="col">buy</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="term in terms.data.value?.slice(0, BRIEF)" :key="term.term">
        <th scope="row" :data-tip="term.term">{{ term.term }}</th>
        <td>{{ formatCount(term.searches_52w) }}</td>
        <td>{{ formatShare(term.purchase_rate) }}</td>
      </tr>
    </tbody>
  </v-table>
  <v-table v-if="listings.data.value?.length" class="brief">
    <thead>
      <tr>
        <th v-explain="'listing'" scope="col">most clicked listings</th>
        <th v-explain="'click-share'" scope="col">clicks</th>
        <th v-explain:figure="'sales.price_median'" scope="col">price</th>
        <th v-explain:figure="'review_barrier'" scope="col">reviews</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in listings.data.value.slice(0, BRIEF)" :key="one.listing_id">
        <th scope="row" :data-tip="one.title">
          {{ one.title }} <span v-if="one.brand" class="small">{{ one.brand }}</span>
        </th>
        <td>{{ formatShare(one.click_share) }}</td>
        <td>{{ formatMoney(one.price) }}</td>
        <td>{{ formatCount(one.reviews) }}</td>
      </tr>
    </tbody>
  </v-table>
  <p v-else-if="listings.data.value" class="small">
    No clicks are known here: import term_clicks to see the listings.
  </p>
</template>
