<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import type { ApiError } from "@/api/client";
import { rivalsQueries } from "@/api/rivals";
import { formatMoney } from "@/format/money";
import { formatChange, formatCount, formatDay, formatUnits, UNKNOWN } from "@/format/values";
import PlannedFrom from "@/marks/PlannedFrom.vue";
import { useMarket } from "@/state/useMarket";
import { usePart } from "@/state/usePart";
import { useTabTitle } from "@/state/useTabTitle";
import FileLinks from "@/ui/FileLinks.vue";
import EstimateChecks from "./EstimateChecks.vue";
import PasteField from "./PasteField.vue";
import RivalsFrame from "./RivalsFrame.vue";

/** One's own goods, now and before: which of them it may pay to order again, and why. */
const { market } = useMarket();
const part = usePart();
useTabTitle(computed(() => "My own goods"));
const listings = part("listings", ([text]) => text ?? "", (text) => text, "push"); // prettier-ignore
const rise = part("rise", ([text]) => Math.max(Number(text) || 10, 1), (many) => (many === 10 ? "" : String(many)), "push"); // prettier-ignore
const every = part("every", ([text]) => text === "yes", (on) => (on ? "yes" : ""), "push"); // prettier-ignore
const asked = computed(() => ({
  market: market.value?.market_id ?? "",
  listings: listings.value,
  rise: Math.round(rise.value),
  ...(every.value ? { every: "yes" as const } : {}),
}));
const found = useQuery(
  computed(() => ({ ...rivalsQueries.ownGoods(asked.value), enabled: Boolean(market.value) })),
);
const failure = computed(() => found.error.value as ApiError | null);
const answer = computed(() => (failure.value ? undefined : found.data.value));
const anySold = computed(() => answer.value?.rows.some((one) => one.own_units !== null));
const none = computed(() => answer.value && !answer.value.sellers.length && !answer.value.all_rows);
const pasted = ref("");
function add(): void {
  listings.value = [listings.value, pasted.value].filter(Boolean).join("\n");
  pasted.value = "";
}
const within = computed(() => ({ market: market.value?.market_id }));
const file = computed(() => {
  const query = Object.entries(asked.value).map(([key, value]) => [key, String(value)]);
  return `/api/rivals/own/goods/file/?${new URLSearchParams(query).toString()}`;
});
</script>

<template>
  <RivalsFrame label="My own goods" title="My own goods, and which to order again">
    <PasteField
      v-model="pasted"
      label="Listings"
      hint="Paste listings that were my own: ids, or addresses with the id inside, in any form"
      :act="listings ? 'Add them' : 'Look'"
      @add="add"
    />
    <p v-if="failure" class="error" role="alert">{{ failure.message }}</p>
    <template v-if="answer">
      <p v-if="answer.sellers.length" class="small">
        My sellers:
        <template v-for="(one, at) in answer.sellers" :key="one.id"
          ><template v-if="at">, </template
          ><RouterLink :to="{ path: '/seller', query: { ...within, seller: one.id } }">{{
            one.name
          }}</RouterLink></template
        >.
        <v-btn v-if="listings" class="small" @click="listings = ''">Without pasted listings</v-btn>
      </p>
      <p v-if="answer.unknown.length" class="small" role="status">
        No listing here: {{ answer.unknown.map((one) => `“${one}”`).join(", ") }}.
      </p>
      <p v-if="none" class="small">
        No seller is my own yet. Open a seller’s page in
        <RouterLink :to="{ path: '/rivals/sellers', query: within }">sellers</RouterLink> and say
        that it is your own, or paste listings here.
      </p>
      <template v-else>
        <p class="choose">
          <label>
            price risen by
            <input
              v-model.lazy.number="rise"
              type="number"
              min="1"
              max="1000"
              aria-label="Percent by which the price has risen"
            />% in 13 weeks
          </label>
          <v-checkbox v-model="every" label="also those of which nothing says so" />
          <FileLinks v-if="answer.rows.length" :address="file" what="the goods" />
        </p>
        <p>
          <b role="status"
            >{{ formatCount(answer.again) }} of {{ formatCount(answer.all_rows) }} own goods may pay
            to order again.</b
          >
          <span class="small">
            Their price rose, nobody else offers them or they are out of stock while demand is not
            seen to fall, or their season comes and its order-by date is within 60 days. Of what
            sells under 52 a year nothing is said. What an order would earn is not reckoned
            here.</span
          >
          <PlannedFrom class="planned" :day="market?.planning_date ?? null" />
        </p>
        <div v-if="answer.rows.length" class="scroller">
          <v-table density="compact">
            <thead>
              <tr>
                <th v-explain="'listing'" scope="col">listing</th>
                <th scope="col" data-tip="What says that it may pay to order it again.">why</th>
                <th v-explain:figure="'listing.price'" scope="col" class="number">price</th>
                <th v-explain:figure="'listing.price_change_13w'" scope="col" class="number">
                  13 weeks
                </th>
                <th
                  v-explain:figure="'sales.units_52w'"
                  scope="col"
                  class="number"
                  data-tip="All that the listing sold, whoever sold it. With ≈ estimated from its sales rank."
                >
                  units/yr
                </th>
                <th
                  v-if="anySold"
                  v-explain:figure="'listing.own_units'"
                  scope="col"
                  class="number"
                >
                  I sold
                </th>
                <th v-explain:figure="'sleep.state'" scope="col">sleeper</th>
                <th v-explain:figure="'sleep.order_by'" scope="col">order by</th>
                <th scope="col" class="number" data-tip="Other sellers who have it now.">rivals</th>
                <th scope="col" data-tip="When I was last seen with it.">mine until</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in answer.rows" :key="one.listing_id">
                <th scope="row" class="title">
                  <RouterLink
                    :to="{ path: '/listing', query: { ...within, listing: one.listing_id } }"
                    >{{ one.name }}</RouterLink
                  >
                </th>
                <td class="why">{{ one.sentence }}</td>
                <td class="number">{{ formatMoney(one.price) }}</td>
                <td class="number">
                  {{ one.price_change_13w === null ? UNKNOWN : formatChange(one.price_change_13w) }}
                </td>
                <td class="number">
                  {{ formatUnits(one.units_52w, one.estimated_units) }}
                </td>
                <td v-if="anySold" class="number">{{ formatUnits(one.own_units, null) }}</td>
                <td>{{ one.sleeper ?? "" }}</td>
                <td>{{ one.order_by ? formatDay(one.order_by) : "" }}</td>
                <td class="number">{{ formatCount(one.rivals) }}</td>
                <td>
                  {{ one.carried_now ? "now" : one.until ? formatDay(one.until) : UNKNOWN }}
                </td>
              </tr>
            </tbody>
          </v-table>
        </div>
      </template>
      <EstimateChecks :checks="answer.checks" :sold="answer.sold" />
    </template>
  </RivalsFrame>
</template>

<style scoped>
.planned {
  margin-left: 4px;
  color: var(--ochre-text);
}

.scroller :deep(.title) {
  min-width: 190px;
}

.scroller :deep(.v-table tbody td.why) {
  min-width: 240px;
  max-width: 400px;
  white-space: normal;
}
</style>
