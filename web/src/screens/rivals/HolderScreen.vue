<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed } from "vue";
import { useRoute } from "vue-router";
import type { ApiError, SubjectPreview } from "@/api/client";
import type { HolderPreview } from "@/api/rivals";
import { chooseOwn, ownQuery, rivalsQueries } from "@/api/rivals";
import CurveChart from "@/charts/CurveChart.vue";
import YearsChart from "@/charts/YearsChart.vue";
import { formatMoney } from "@/format/money";
import { formatCount, formatShare } from "@/format/values";
import { KINDS, provideKind } from "@/state/useKind";
import { useMarket } from "@/state/useMarket";
import { usePart } from "@/state/usePart";
import { usePreview } from "@/state/usePreview";
import { useNotice } from "@/state/useNotice";
import { useTabTitle } from "@/state/useTabTitle";
import GoodsTable from "./GoodsTable.vue";
import PartsTable from "./PartsTable.vue";
import RivalPage from "./RivalPage.vue";
import SaidBeside from "./SaidBeside.vue";

/** One brand or one seller on a page of its own: what it sells, its goods now and before, and who shares in them. */
const route = useRoute();
const named = route.path === "/brand" ? "brand" : "seller";
const kind = provideKind(named === "brand" ? KINDS.brands : KINDS.sellers);
const { market } = useMarket();
const part = usePart();
const id = part(named, ([one]) => one ?? "", (one) => one); // prettier-ignore
const when = part("when", ([text]) => text ?? "now", (text) => (text === "now" ? "" : text), "push"); // prettier-ignore
const only = part("only", ([text]) => text ?? "", (text) => text, "push"); // prettier-ignore
const preview = usePreview(() => market.value?.market_id, id);
const subject = computed(() =>
  preview.data.value?.id === id.value ? preview.data.value : undefined,
);
/** The same with what a brand or a seller alone has. */
const holder = computed(() => subject.value as unknown as HolderPreview | undefined);
const page = useQuery(
  computed(() => ({
    ...rivalsQueries.holder(named, market.value?.market_id ?? "", id.value, when.value, only.value),
    enabled: Boolean(market.value && id.value),
  })),
);
useTabTitle(computed(() => subject.value?.name ?? (named === "brand" ? "Brand" : "Seller")));
const failure = computed(() => preview.error.value as ApiError | null);
const within = computed(() => ({ market: market.value?.market_id ?? "" }));

/** What one asks first, each with the figure that explains it. */
const facts = computed(() => {
  const of = holder.value?.figures;
  if (!of) return [];
  const estimated = of.sales_units_52w === null && of.carried_estimated_units !== null;
  const all = [
    estimated
      ? { head: "units a year, estimated", of: "carried.estimated_units", text: formatCount(of.carried_estimated_units) }
      : { head: "units a year", of: "sales.units_52w", text: formatCount(of.sales_units_52w) },
    { head: "revenue a year", of: "sales.revenue_52w", text: formatMoney(of.sales_revenue_52w) },
    { head: "listings on sale", of: "carried.listings", text: formatCount(of.carried_listings) },
    { head: "ever", of: "carried.ever", text: formatCount(of.carried_ever) },
    { head: "came in a year", of: "carried.came_52w", text: formatCount(of.carried_came_52w) },
    { head: "went in a year", of: "carried.went_52w", text: formatCount(of.carried_went_52w) },
    { head: "median price", of: "carried.price", text: formatMoney(of.carried_price) },
    { head: "its listings that make 90%", of: "lorenz.share_for_90", text: formatShare(of.lorenz_share_for_90) },
    { head: "asleep", of: "carried.asleep", text: formatCount(of.carried_asleep) },
  ];
  if ("carried_sellers" in of)
    all.push(
      { head: "sellers", of: "carried.sellers", text: formatCount(of.carried_sellers) },
      { head: "units a review", of: "entry.units_per_review", text: formatCount(of.entry_units_per_review) },
      { head: "sold by the marketplace", of: "sold.own_retail", text: formatShare(of.sold_own_retail) },
    );
  else
    all.push(
      { head: "brands", of: "carried.brands", text: formatCount(of.carried_brands) },
      { head: "of its lead offers", of: "carried.lead_share", text: formatShare(of.carried_lead_share) },
    );
  return all;
}); // prettier-ignore

/** A seller may be the researcher's own; what it carries is then told apart elsewhere. */
const cache = useQueryClient();
const { notify } = useNotice();
const own = useQuery(computed(() => ownQuery(market.value?.market_id)));
const isOwn = computed(() => own.data.value?.sellers.includes(id.value) ?? false);
async function sayOwn(): Promise<void> {
  try {
    const answer = await chooseOwn(within.value.market, id.value, !isOwn.value);
    cache.setQueryData(ownQuery(within.value.market).queryKey, answer);
    for (const key of ["together", "own goods"]) void cache.invalidateQueries({ queryKey: [key] });
  } catch (error) {
    notify((error as ApiError).message);
  }
}
/** Where what it sells is not known, its category is that of most of its listings. */
const sells = computed(() => {
  const of = holder.value?.figures;
  return of && (of.sales_units_52w !== null || of.carried_estimated_units !== null);
});
const drawn = computed(() => subject.value as SubjectPreview);
</script>

<template>
  <RivalPage
    :subject="subject"
    :facts="facts"
    :failure="failure"
    @retry="(preview.refetch(), page.refetch())"
  >
    <template v-if="subject" #under>
      {{
        [
          `${kind.one} ${subject.id}`,
          subject.category && `${sells ? "sells" : "has"} most in ${subject.category}`,
        ]
          .filter(Boolean)
          .join(" · ")
      }}
    </template>
    <template v-if="subject" #acts>
      <RouterLink
        :to="{
          path: '/rivals',
          query: { ...within, c: `${named === 'brand' ? 'made' : 'sold'} by ${subject.id}` },
        }"
        >{{ named === "brand" ? "Its listings" : "Listings that name it" }} in Rivals</RouterLink
      >
      <template v-if="named === 'seller'">
        <RouterLink :to="{ path: '/rivals/together', query: { ...within, sellers: subject.id } }"
          >Together with others</RouterLink
        >
        <v-btn v-if="own.data.value" class="mine" :aria-pressed="isOwn" @click="sayOwn">{{
          isOwn ? "My own: say it is not" : "It is my own"
        }}</v-btn>
      </template>
    </template>
    <section v-if="subject?.values.length" class="curves" aria-label="What it sells">
      <CurveChart :subject="drawn" />
      <YearsChart v-if="subject.years.length > 1" :subject="drawn" />
    </section>
    <GoodsTable
      v-model:when="when"
      v-model:only="only"
      :named="named"
      :page="page.data.value"
      :error="page.error.value?.message ?? ''"
      :as-of="market?.as_of ?? ''"
      :planning="market?.planning_date ?? ''"
      :within="within"
    />
    <SaidBeside
      v-if="subject"
      :id="subject.id"
      :of="named === 'brand' ? 'brands' : 'sellers'"
      :market="market?.market_id"
    />
    <div v-if="page.data.value" class="tables">
      <PartsTable
        title="Where it sells"
        what="category"
        :rows="page.data.value.categories"
        :to="(one) => ({ path: '/catalogue', query: { ...within, category: one } })"
      />
      <PartsTable
        v-if="named === 'brand'"
        title="Who sells it"
        what="seller"
        :rows="page.data.value.others"
        :to="(one) => ({ path: '/seller', query: { ...within, seller: one } })"
      />
      <PartsTable
        v-else
        title="Its brands"
        what="brand"
        :rows="page.data.value.others"
        :to="(one) => ({ path: '/brand', query: { ...within, brand: one } })"
      />
    </div>
  </RivalPage>
</template>

<style scoped>
.curves {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 1fr);
  gap: 22px;
  height: 190px;
  margin-top: 12px;
}

@media (max-width: 800px) {
  .curves {
    grid-template-columns: minmax(0, 1fr);
    height: auto;
    grid-auto-rows: 190px;
  }
}
</style>
