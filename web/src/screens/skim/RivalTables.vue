<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { rivalsQueries } from "@/api/rivals";
import { formatMoney } from "@/format/money";
import { formatCount, formatShare, formatUnits } from "@/format/values";
import { useKind } from "@/state/useKind";
import "./tables.css";

/** Terms that lead to a listing and the others in its niche; of a brand or a seller what sells most. */
const props = defineProps<{ market: string; id: string }>();

const BRIEF = 5;
const GOODS = 8;
const kind = useKind();
const listing = useQuery(
  computed(() => ({
    ...rivalsQueries.page(props.market, props.id),
    enabled: kind.named === "listing",
  })),
);
const holder = useQuery(
  computed(() => ({
    ...rivalsQueries.holder(
      kind.named === "brand" ? "brand" : "seller",
      props.market,
      props.id,
      "now",
      "",
    ),
    enabled: kind.named !== "listing",
  })),
);
const terms = computed(() => listing.data.value?.terms ?? []);
const beside = computed(() =>
  (listing.data.value?.beside ?? []).filter((one) => one.id !== props.id).slice(0, BRIEF),
);
const goods = computed(() => holder.data.value?.goods.slice(0, GOODS) ?? []);
</script>

<template>
  <v-table v-if="terms.length" class="brief">
    <thead>
      <tr>
        <th v-explain="'term'" scope="col">terms that lead to it</th>
        <th v-explain="'click-share'" scope="col">clicks</th>
        <th v-explain:figure="'searches_52w'" scope="col">searches/yr</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in terms.slice(0, BRIEF)" :key="one.term">
        <th scope="row" :data-tip="one.term">{{ one.term }}</th>
        <td>{{ formatShare(one.share) }}</td>
        <td>{{ formatCount(one.searches) }}</td>
      </tr>
    </tbody>
  </v-table>
  <p v-else-if="listing.data.value" class="small">No term is known after which it is clicked.</p>
  <v-table v-if="beside.length" class="brief">
    <thead>
      <tr>
        <th v-explain="'listing'" scope="col">others in its niche</th>
        <th v-explain:figure="'listing.price'" scope="col">price</th>
        <th v-explain:figure="'sales.units_52w'" scope="col">units/yr</th>
        <th v-explain:figure="'listing.reviews'" scope="col">reviews</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in beside" :key="one.id">
        <th scope="row" :data-tip="one.name">{{ one.name }}</th>
        <td>{{ formatMoney(one.listing_price) }}</td>
        <td>{{ formatCount(one.sales_units_52w) }}</td>
        <td>{{ formatCount(one.listing_reviews) }}</td>
      </tr>
    </tbody>
  </v-table>
  <v-table v-if="goods.length" class="brief">
    <thead>
      <tr>
        <th v-explain="'listing'" scope="col">what sells most</th>
        <th v-explain:figure="'listing.price'" scope="col">price</th>
        <th
          scope="col"
          data-tip="Its part of what the listing sold in a year. With ≈ estimated from its sales rank."
        >
          units/yr
        </th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in goods" :key="one.id">
        <th scope="row" :data-tip="one.name">{{ one.name }}</th>
        <td>{{ formatMoney(one.listing_price) }}</td>
        <td>
          {{ one.estimated ? formatUnits(null, one.units) : formatUnits(one.units, null) }}
        </td>
      </tr>
    </tbody>
  </v-table>
  <p v-else-if="holder.data.value" class="small">Nothing of it is on sale now.</p>
</template>
