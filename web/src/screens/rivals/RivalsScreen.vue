<script setup lang="ts">
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { formatCount } from "@/format/values";
import ListActs from "@/screens/parts/ListActs.vue";
import LedgerView from "@/screens/parts/ledger/LedgerView.vue";
import { KINDS, provideKind } from "@/state/useKind";
import { useListState } from "@/state/useListState";
import { useMarket } from "@/state/useMarket";
import { useTabTitle } from "@/state/useTabTitle";
import RivalsNav from "./RivalsNav.vue";
import { BRAND_COLUMNS, LISTING_COLUMNS, SELLER_COLUMNS } from "./columns";
import { WAYS, type Way } from "./ways";

/** Who sells already: listing by listing, by brands or by sellers. */
const route = useRoute();
const router = useRouter();
const { market } = useMarket();
const RIVALS = [KINDS.listings, KINDS.brands, KINDS.sellers];
const COLUMNS = { listings: LISTING_COLUMNS, brands: BRAND_COLUMNS, sellers: SELLER_COLUMNS };
const kind = provideKind(RIVALS.find(({ home }) => home === route.path) ?? KINDS.listings);
const of = kind.of as keyof typeof COLUMNS;
const ways = WAYS[of];
const state = useListState(kind);
useTabTitle(computed(() => "Rivals"));
const ledger = ref<InstanceType<typeof LedgerView> | null>(null);

/** One way at a time; what one typed besides stays. */
function begin(way: Way): void {
  const others = new Set(ways.map((one) => one.condition));
  const kept = state.conditions.value.filter((text) => !others.has(text));
  const had = state.conditions.value.includes(way.condition);
  // Both at once, so that Back takes both back.
  const c = had ? kept : [...kept, way.condition];
  const sort = had ? undefined : way.sort;
  void router.push({ path: route.path, query: { ...route.query, c, sort } });
}

function open({ id }: { id: string }): void {
  const query = { market: market.value?.market_id, [kind.named]: id };
  void router.push({ path: kind.page ?? kind.home, query });
}
function together(sellers: string[]): void {
  const query = { market: market.value?.market_id, sellers: sellers.join("\n") };
  void router.push({ path: "/rivals/together", query });
}
</script>

<template>
  <LedgerView
    ref="ledger"
    :state="state"
    :label="kind.many[0]?.toUpperCase() + kind.many.slice(1)"
    :usual="COLUMNS[of]"
    @open="open"
  >
    <template #top>
      <div class="told">
        <RivalsNav />
        <span v-if="ledger?.ready" role="status"
          ><b>{{ formatCount(ledger.total) }}</b> {{ ledger.total === 1 ? kind.one : kind.many }}.
          Begin with those that</span
        >
        <v-btn
          v-for="way in ways"
          :key="way.name"
          class="way"
          :aria-pressed="state.conditions.value.includes(way.condition)"
          @click="begin(way)"
          >{{ way.name }}</v-btn
        >
      </div>
    </template>
    <template #marked="{ marked }">
      <v-btn v-if="of === 'sellers'" @click="together(marked)">What they carry together</v-btn>
      <ListActs :market="market?.market_id ?? ''" :kind="kind" :ids="marked" />
    </template>
    <template #nothing>
      <p class="nothing">
        {{
          of === "listings"
            ? "No listings are known here. Import a listings table; with listing_weeks one sees what each sells, and when."
            : of === "brands"
              ? "No brands are known here. Import listings with their brand; with listing_weeks one sees what each brand sells, and when."
              : "No sellers are known here. Import offers, or listings with their seller_id; with lead_seller_id in listing_weeks one sees what each seller sells."
        }}
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

.way[aria-pressed="true"] {
  font-weight: 600;
}

.nothing {
  flex: 1;
  margin: 0;
  padding: 24px 20px;
}
</style>
