<script setup lang="ts">
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { formatCount } from "@/format/values";
import LedgerView from "@/screens/parts/ledger/LedgerView.vue";
import { KINDS, provideKind } from "@/state/useKind";
import { useListState } from "@/state/useListState";
import { useMarket } from "@/state/useMarket";
import { useTabTitle } from "@/state/useTabTitle";
import { LISTING_COLUMNS } from "./columns";

/** Who sells already, listing by listing. */
const route = useRoute();
const router = useRouter();
const { market } = useMarket();
const state = useListState(provideKind(KINDS.listings));
useTabTitle(computed(() => "Rivals"));
const ledger = ref<InstanceType<typeof LedgerView> | null>(null);

/** Ways to begin: a condition, and the order in which one reads what it leaves. */
const WAYS = [
  { name: "asleep until their season", condition: "sleeper is Asleep", sort: "-sleep.strong_4w" },
  { name: "in season now", condition: "sleeper is In season", sort: "-listing.units_4w" },
  {
    name: "dearer than 13 weeks ago",
    condition: "price, change in 13 weeks over 10%",
    sort: "-listing.price_change_13w",
  },
  {
    name: "offered by ever more sellers",
    condition: "its offers ahead of units over 50%",
    sort: "-listing.offers_lead",
  },
  { name: "out of stock", condition: "in stock now under 50%", sort: "listing.in_stock" },
];
/** One way at a time; what one typed besides stays. */
function begin(way: (typeof WAYS)[number]): void {
  const others = new Set(WAYS.map((one) => one.condition));
  const kept = state.conditions.value.filter((text) => !others.has(text));
  const had = state.conditions.value.includes(way.condition);
  // Both at once, so that Back takes both back.
  const c = had ? kept : [...kept, way.condition];
  const sort = had ? undefined : way.sort;
  void router.push({ path: route.path, query: { ...route.query, c, sort } });
}

function openListing({ id }: { id: string }): void {
  void router.push({ path: "/listing", query: { market: market.value?.market_id, listing: id } });
}
</script>

<template>
  <LedgerView
    ref="ledger"
    :state="state"
    label="Listings"
    :usual="LISTING_COLUMNS"
    @open="openListing"
  >
    <template #top>
      <p class="told" role="status">
        <template v-if="ledger?.ready"
          ><span
            ><b>{{ formatCount(ledger.total) }}</b>
            {{ ledger.total === 1 ? "listing" : "listings" }}. Begin with those that are</span
          ></template
        >
        <v-btn
          v-for="way in WAYS"
          :key="way.name"
          class="way"
          :aria-pressed="state.conditions.value.includes(way.condition)"
          @click="begin(way)"
          >{{ way.name }}</v-btn
        >
      </p>
    </template>
    <template #nothing>
      <p class="nothing">
        No listings are known here. Import a listings table; with listing_weeks one sees what each
        sells, and when.
      </p>
    </template>
  </LedgerView>
</template>

<style scoped>
.told {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: baseline;
  min-height: 20px;
  margin: 0;
  padding: 6px 20px;
}

/* Fingers need 24 pixels (WCAG 2.2, 2.5.8). */
.way {
  min-height: 24px;
}

.nothing {
  flex: 1;
  margin: 0;
  padding: 24px 20px;
}
</style>
