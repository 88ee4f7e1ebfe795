<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { type AlmanacBy, almanacQueries, type AlmanacQuery } from "@/api/almanac";
import { type ApiError, NICHES } from "@/api/client";
import { orderQueries } from "@/api/orders";
import { choosePlanning, registryQueries } from "@/api/registry";
import { formatCount, formatDay } from "@/format/values";
import MarketGate from "@/screens/parts/MarketGate.vue";
import NothingPasses from "@/screens/parts/sieve/NothingPasses.vue";
import SieveLine from "@/screens/parts/sieve/SieveLine.vue";
import { useCopy } from "@/state/useCopy";
import { KINDS, useKindNamed } from "@/state/useKind";
import { useListState } from "@/state/useListState";
import { useMarket } from "@/state/useMarket";
import { useNotice } from "@/state/useNotice";
import { usePart } from "@/state/usePart";
import { useShortcuts } from "@/state/useShortcuts";
import { useTabTitle } from "@/state/useTabTitle";
import EmptyView from "@/ui/EmptyView.vue";
import FileLinks from "@/ui/FileLinks.vue";
import SelectField from "@/ui/SelectField.vue";
import CalendarRows from "./CalendarRows.vue";
import OrdersBand from "./OrdersBand.vue";
import WeekList from "./WeekList.vue";
import TrackNote from "@/screens/parts/proof/TrackNote.vue";

/** When to order for the seasons of what passes, over fifteen months. */
const KEPT = "decided keep";
const ASLEEP = "sleeper is Asleep";

const cache = useQueryClient();
const route = useRoute();
const router = useRouter();
const { market } = useMarket();
const { notify } = useNotice();
const copy = useCopy();
const kind = useKindNamed([KINDS.niches, KINDS.categories, KINDS.listings]);
const state = useListState(kind);
const { conditions, near } = state;
const part = usePart();
const by = part<AlmanacBy>(
  "by",
  ([text]) => (["rank", "name", "category"] as const).find((one) => one === text) ?? "next",
  (one) => (one === "next" ? "" : one),
  "push",
);
const view = part<"calendar" | "list">(
  "view",
  ([text]) => (text === "list" ? "list" : "calendar"),
  (one) => (one === "list" ? one : ""),
  "push",
);
const on = part<string | undefined>(
  "on",
  ([text]) => text,
  (day) => day ?? "",
);
const chosen = part<string[]>(
  "chosen",
  (ids) => ids,
  (ids) => ids,
);
useTabTitle("Almanac");

const figures = useQuery(registryQueries.figures());
const ask = computed<AlmanacQuery>(() => ({
  of: kind.of === NICHES ? undefined : kind.of,
  market: market.value?.market_id,
  c: conditions.value.length ? conditions.value : undefined,
  near: near.value ? "yes" : undefined,
  lens: state.lens.value || undefined,
  niche: chosen.value.length ? chosen.value : undefined,
  by: by.value === "next" ? undefined : by.value,
  on: on.value,
}));
const rows = useQuery(
  computed(() => ({ ...almanacQueries.rows(ask.value), enabled: Boolean(market.value) })),
);
const almanac = computed(() => rows.data.value);
const onlyKept = computed(() => conditions.value.length === 1 && conditions.value[0] === KEPT);
const nothing = computed(() => almanac.value && !almanac.value.rows.length);
const lensOpen = ref(false);
/** What ledgers are asked with: the same without the order of dates. */
const asLedger = computed(() => ({ ...state.ask.value, sort: kind.sort }));

/** What is planned for the market; it comes when the calendar stands. */
const planned = useQuery(
  computed(() => ({
    ...orderQueries.all(market.value?.market_id ?? ""),
    enabled: Boolean(almanac.value) && kind.of === NICHES,
  })),
);
const orders = computed(() => (kind.of === NICHES ? planned.data.value : undefined));
const toOrders = computed(() => ({
  path: "/orders",
  query: { market: market.value?.market_id ?? "" },
}));

const SORTS: { title: string; value: AlmanacBy }[] = [
  { title: "by next date", value: "next" },
  ...(kind.ranked ? [{ title: "by rank", value: "rank" as const }] : []),
  { title: "by name", value: "name" },
  { title: "by category", value: "category" },
];

const pageOf = ({ id }: { id: string }) => ({
  path: kind.page ?? kind.home,
  query: { market: market.value?.market_id ?? "", [kind.named]: id },
});

const planOf = ({ id }: { id: string }) => ({
  path: "/plan",
  query: { market: market.value?.market_id ?? "", niche: id },
});

function show(of: string | undefined, c: string[]): void {
  const query = { market: market.value?.market_id, of, c, view: route.query["view"] };
  void router.push({ path: "/almanac", query });
}

/** The query of the files: what passes, without the day that is only looked from. */
const query = computed(() => {
  const found = new URLSearchParams();
  const asked = { ...ask.value, on: undefined };
  for (const [name, value] of Object.entries(asked))
    for (const one of [value ?? []].flat()) found.append(name, one);
  return found.toString();
});
const calendar = computed(() => `${window.location.origin}/api/almanac/calendar/?${query.value}`);
const subscribe = (): Promise<void> =>
  copy(calendar.value, "The calendar’s address is copied. Add it in your calendar as a subscription; it answers while Driftfield runs.", calendar.value); // prettier-ignore
const print = (): void => window.print();

async function planFrom(day: string): Promise<void> {
  if (!market.value || !almanac.value) return;
  const { market_id, as_of } = market.value;
  try {
    await choosePlanning({
      market_id,
      planning_date: day === as_of ? null : day,
      lead_days: almanac.value.lead_days,
    });
    void cache.invalidateQueries();
    on.value = undefined;
    notify(`Planned from ${formatDay(day)}: all dates follow.`);
  } catch (error) {
    notify((error as ApiError).message);
  }
}

useShortcuts([
  {
    keys: ["g"],
    does: "Calendar or list",
    run: () => (view.value = view.value === "list" ? "calendar" : "list"),
  },
]);
</script>

<template>
  <div class="almanac">
    <MarketGate
      :pending="!almanac"
      :failure="almanac ? null : rows.error.value"
      @retry="rows.refetch()"
    >
      <template v-if="almanac">
        <section class="told" aria-label="What is due">
          <h1 v-explain="'almanac'" class="serif">Almanac</h1>
          <p class="serif">
            <template v-if="almanac.rows.length">{{ almanac.sentences.join(" ") }}</template>
          </p>
          <TrackNote
            v-if="market && kind.of === NICHES && almanac.rows.length"
            :market="market.market_id"
            part="season"
          />
        </section>
        <SieveLine
          v-model:conditions="conditions"
          v-model:near="near"
          v-model:lens-open="lensOpen"
          :lens="undefined"
          :market="market?.market_id"
          :sieve="almanac.conditions"
          :figures="figures.data.value ?? []"
          :count="almanac.count"
          :near-count="almanac.near"
          :total="almanac.total"
        >
          <v-btn :aria-pressed="onlyKept && kind.of === NICHES" @click="show(undefined, [KEPT])"
            >Kept niches</v-btn
          >
          <v-btn
            :aria-pressed="kind.of === KINDS.listings.of && conditions.includes(ASLEEP)"
            @click="show(KINDS.listings.of, [ASLEEP])"
            >Sleepers</v-btn
          >
          <SelectField v-model="by" label="Sorted" :items="SORTS" />
          <v-btn-toggle v-model="view" aria-label="How they are shown">
            <v-btn
              v-for="one in ['calendar', 'list'] as const"
              :key="one"
              :value="one"
              :aria-pressed="view === one"
              >{{ one }}</v-btn
            >
          </v-btn-toggle>
          <v-btn :to="toOrders">Orders</v-btn>
          <v-btn @click="print">Print</v-btn>
          <v-menu location="bottom end">
            <template #activator="{ props: opens }">
              <v-btn v-bind="opens">Export dates</v-btn>
            </template>
            <div class="sheet" role="dialog" aria-label="Export">
              <h3 class="small">For your calendar, with a reminder a week before each deadline</h3>
              <p>
                <v-btn :href="calendar" download="almanac.ics">Calendar file (ICS)</v-btn>
                <v-btn @click="subscribe">Copy its address to subscribe</v-btn>
              </p>
              <h3 class="small">All dates as a list</h3>
              <FileLinks :address="`/api/almanac/file/?${query}`" what="dates" />
            </div>
          </v-menu>
        </SieveLine>
        <p v-if="rows.error.value" class="looked" role="alert">{{ rows.error.value.message }}</p>
        <p v-if="chosen.length" class="looked">
          Only {{ formatCount(chosen.length) }} that you chose.
          <v-btn @click="chosen = []">Show all that pass</v-btn>
        </p>
        <p v-if="almanac.on !== almanac.planning_date" class="looked" role="status">
          Looked at as if ordering on {{ formatDay(almanac.on) }}; you plan from
          {{ formatDay(almanac.planning_date) }}.
          <v-btn @click="planFrom(almanac.on)">Plan from {{ formatDay(almanac.on) }}</v-btn>
          <v-btn @click="on = undefined">Back</v-btn>
        </p>
        <EmptyView
          v-if="nothing && onlyKept"
          title="No niche is kept yet"
          text="What you keep in the Field stands here with the dates of its seasons. Until then you can look at all of them."
        >
          <v-btn @click="show(undefined, [])">Show all niches</v-btn>
        </EmptyView>
        <NothingPasses
          v-else-if="nothing"
          :ask="asLedger"
          :conditions="almanac.conditions"
          :blocked="almanac.blocked"
          @change="conditions = $event"
          @near="near = true"
        />
        <WeekList v-else-if="view === 'list'" :ask="ask" :page-of="pageOf" />
        <template v-else>
          <CalendarRows
            :almanac="almanac"
            :by="by"
            :page-of="pageOf"
            :plan-of="kind.of === NICHES ? planOf : undefined"
            @on="on = $event === almanac.planning_date ? undefined : $event"
          >
            <template #default="{ axis }">
              <OrdersBand
                v-if="orders?.plans.length"
                :orders="orders"
                :axis="axis"
                :to="toOrders"
              />
            </template>
          </CalendarRows>
          <p class="legend small">
            <span><i class="window" /> ordering still meets half of the season</span>
            <span><i class="by" /> last day for all of it</span>
            <span><i class="way" /> on its way</span>
            <span><i class="block season" /> season</span>
            <span><i class="block peak" /> peak</span>
            <span>height: the usual year, each against its own highest</span>
            <span v-if="almanac.rows.length < almanac.count"
              >the first {{ formatCount(almanac.rows.length) }} of
              {{ formatCount(almanac.count) }}</span
            >
            <span v-if="!almanac.holidays_of"
              >public holidays: not known; give the market’s country in the markets table</span
            >
          </p>
        </template>
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.almanac {
  display: flex;
  flex-direction: column;
  height: 100%;
}

.told {
  display: flex;
  gap: 26px;
  align-items: baseline;
  padding: 8px var(--gutter) 6px;
  background: var(--page);
}

h1 {
  margin: 0;
  font-size: 19px;
}

.told p {
  max-width: 1100px;
  margin: 0;
  font-size: 15px;
  line-height: 1.35;
  color: var(--ink2);
}

.looked {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
  margin: 0;
  padding: 5px var(--gutter);
  background: var(--ochre-wash);
}

.sheet {
  padding: 8px 14px 12px;
}

.sheet h3 {
  margin: 8px 0 2px;
}

.sheet p {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 0;
}

[aria-pressed="true"] {
  font-weight: 600;
}

.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 20px;
  margin: 0;
  padding: 6px var(--gutter);
  border-top: 1px solid var(--rule);
}

.legend span {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}

.legend i {
  display: inline-block;
  width: 22px;
}

.legend .window {
  height: 9px;
  border: 1px solid var(--ochre);
  background: repeating-linear-gradient(135deg, var(--ochre) 0 1px, var(--ochre-wash) 1px 4px);
}

.legend .by {
  width: 3px;
  height: 12px;
  background: var(--ochre);
}

.legend .way {
  border-top: 1px dashed var(--ochre);
}

.legend .block {
  height: 9px;
}

.legend .season {
  background: var(--q3);
}

.legend .peak {
  background: var(--q5);
}

@media (max-width: 760px) {
  .told {
    display: block;
  }
}

/* In a low window, or one that is enlarged, the page scrolls. */
@media (max-height: 540px), (max-width: 760px) {
  .almanac {
    height: auto;
  }
}

@media print {
  .almanac {
    height: auto;
  }

  .almanac :deep(.acts) {
    display: none;
  }
}
</style>
