<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { ApiError, LedgerRow } from "@/api/client";
import { registryQueries } from "@/api/registry";
import { drawWord, type SeedQuery, termsQueries } from "@/api/terms";
import { formatFigure } from "@/format/figure";
import { formatChange, formatCount, formatShare, UNKNOWN, yearShare } from "@/format/values";
import LedgerTable from "@/screens/parts/ledger/LedgerTable.vue";
import { useLedger } from "@/screens/parts/ledger/useLedger";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { arrivalShare, useMarket } from "@/state/useMarket";
import { useNotice } from "@/state/useNotice";
import { useShortcuts } from "@/state/useShortcuts";
import { useTabTitle } from "@/state/useTabTitle";
import { useTermsState } from "@/state/useTermsState";
import FileLinks from "@/ui/FileLinks.vue";
import { EXTRA, TERM_COLUMNS } from "./columns";
import LetterStrip from "./LetterStrip.vue";
import SeedLine from "./SeedLine.vue";
import { tellGrowth } from "./steps";
import WordsBeside from "./WordsBeside.vue";

const route = useRoute();
const router = useRouter();
const { market } = useMarket();
const { notify } = useNotice();
const { words, how, without, exact, after, before, sort, go, drawn, ask } = useTermsState();
useTabTitle(computed(() => (words.value.length ? `${words.value.join(" ")} · Terms` : "Terms")));

const figures = useQuery(registryQueries.figures());
const registry = computed(() => new Map((figures.data.value ?? []).map((one) => [one.key, one])));
// Without a seed all terms are shown, most searched first.
const query = computed<Partial<SeedQuery> & { of: "terms"; sort: string; figures: string }>(() => ({
  ...(ask.value ?? { of: "terms", market: market.value?.market_id, sort: sort.value }),
  figures: EXTRA,
}));
const inView = ref({ first: 0, last: 0 });
const ledger = useLedger(query, inView);
const onward = useQuery(
  computed(() => ({
    ...termsQueries.onward(ask.value ?? { of: "terms", seed: "", sort: "" }),
    enabled: ask.value !== undefined,
  })),
);
const found = computed(() => (ask.value ? onward.data.value : undefined));
/** Which side of the seed the strip tells of. */
const side = ref<"after" | "before">("after");
const prefix = computed(() => (side.value === "after" ? after.value : before.value));
const letters = computed(() => [
  ...(before.value ? [`${before.value}… before`] : []),
  ...(after.value ? [`${after.value}…`] : []),
]);

const selected = ref(0);
watch(
  () => JSON.stringify(query.value),
  () => (selected.value = 0),
);
const row = computed(() => ledger.rowAt(selected.value));
const table = ref<InstanceType<typeof LedgerTable> | null>(null);
const seedLine = ref<InstanceType<typeof SeedLine> | null>(null);
const asOf = computed(() => yearShare(market.value?.as_of ?? "2000-01-01"));
// Terms are planned with the market’s lead time, also those of a niche with one of its own.
const arrivalOf = () => (market.value ? arrivalShare(market.value) : 0);

const facts = computed(() => {
  const one = row.value;
  if (!one) return [];
  const of = (key: string): string => {
    const figure = registry.value.get(key);
    return figure ? formatFigure(figure, one.extra[key]) : UNKNOWN;
  };
  return [
    { key: "searches_52w", label: "searches a year", value: formatCount(one.searches_52w) },
    { key: "growth_13w.raw", label: "13 weeks on the 13 before", value: split(one) },
    { key: "drift_rate_year", label: "drift a year", value: drift(one) },
    { key: "purchase_rate", label: "purchase rate", value: of("purchase_rate") },
    { key: "competition_parts.top3_share", label: "top 3 take", value: of("competition_parts.top3_share") },
    { key: "coverage", label: "coverage", value: formatShare(one.coverage) },
  ];
}); // prettier-ignore

/** A change in its parts: what is the season’s in it, and what is not. */
function split(one: LedgerRow): string {
  const { growth_13w_raw: raw, growth_13w_season: season, growth_13w_drift: drift } = one;
  if (raw === null || season === null || drift === null) return formatChange(raw);
  return `${formatChange(raw)}: season ${formatChange(season)}, drift ${formatChange(drift)}`;
}

function drift(one: LedgerRow): string {
  const { drift_rate_year: rate, drift_low: low, drift_high: high } = one;
  if (rate === null || low === null || high === null) return UNKNOWN;
  return `${formatChange(rate)} (${formatChange(low)} to ${formatChange(high)})`;
}

const files = computed(() => {
  const asked = { ...query.value, market: market.value?.market_id };
  const known = Object.entries(asked).filter((pair): pair is [string, string] => Boolean(pair[1]));
  return `/api/ledger/file/?${new URLSearchParams(known).toString()}`;
});

/** How many rows an export takes. */
const exported = computed(
  () => `${formatCount(ledger.length.value)} ${ledger.length.value === 1 ? "row" : "rows"}`,
);

function letter(name: string): void {
  const other = side.value === "after" ? { before: before.value } : { after: after.value };
  go(words.value, { ...other, [side.value]: name });
}

function walk(steps: number): void {
  const last = Math.max(0, ledger.length.value - 1);
  selected.value = Math.min(last, Math.max(0, selected.value + steps));
  table.value?.focus();
}

async function draw(number = 1 + Math.floor(Math.random() * 999_999)): Promise<void> {
  try {
    const { seed } = await drawWord(market.value?.market_id, number);
    go([seed], { drawn: number });
  } catch (error) {
    notify((error as ApiError).message);
  }
}

// An address that names a number and no word draws it again.
watch(
  [() => market.value?.market_id, drawn],
  ([id, number]) => {
    if (id && number && !words.value.length) void draw(number);
  },
  { immediate: true },
);

function openNiche(): void {
  if (!row.value) return;
  const of = route.query["market"] ? { market: route.query["market"] } : {};
  void router.push({ path: "/dossier", query: { ...of, niche: row.value.niche }, hash: "#terms" });
}

useShortcuts([
  { keys: ["ArrowDown", "j"], label: "↓", does: "Next term", run: () => walk(1) },
  { keys: ["ArrowUp"], label: "↑", does: "Term before", run: () => walk(-1) },
  { keys: ["PageDown"], does: "A page on", run: () => walk(table.value?.page() ?? 10) },
  { keys: ["PageUp"], does: "A page back", run: () => walk(-(table.value?.page() ?? 10)) },
  { keys: ["Home"], does: "First term", run: () => walk(-Infinity) },
  { keys: ["End"], does: "Last term", run: () => walk(Infinity) },
  { keys: ["Enter"], does: "Open the term's niche", run: openNiche },
  { keys: ["r"], does: "Draw a word at random", run: () => void draw() },
  { keys: ["/"], does: "Type a word", run: () => void nextTick(() => seedLine.value?.focus()) },
]);
</script>

<template>
  <div class="terms">
    <MarketGate :failure="ledger.error.value" @retry="ledger.retry">
      <SeedLine
        ref="seedLine"
        v-model:how="how"
        v-model:without="without"
        v-model:exact="exact"
        :words="words"
        :letters="letters"
        :drawn="drawn"
        @begin="(text) => go([text])"
        @cut="(many) => go(words.slice(0, many))"
        @draw="draw()"
      />
      <p class="told" role="status">
        <template v-if="found">
          <span v-explain="'seed-volume'"
            ><b>{{ formatCount(found.terms) }}</b> {{ found.terms === 1 ? "term" : "terms" }}
            <template v-if="found.searches_52w !== null"
              >· <b>{{ formatCount(found.searches_52w) }}</b> searches a year</template
            ><template v-else-if="found.terms">· searches unknown</template>
            <template v-if="tellGrowth(found)">
              · {{ tellGrowth(found) }} on the year before</template
            ></span
          >
        </template>
        <template v-else-if="!ask && ledger.ready.value"
          >{{ formatCount(ledger.total.value) }} terms, most searched first. Type a word, or draw
          one at random.</template
        >
      </p>
      <div v-if="found?.terms" class="onward">
        <section class="next" aria-label="What buyers type next">
          <h2 class="small">
            <span v-explain="'going-on'">by letter, searches a year:</span>
            <v-btn-toggle v-model="side" mandatory aria-label="Which side of the seed">
              <v-btn value="after" :aria-pressed="side === 'after'">what comes next</v-btn>
              <v-btn value="before" :aria-pressed="side === 'before'">what comes before</v-btn>
            </v-btn-toggle>
            <v-btn v-if="prefix" @click="go(words, side === 'after' ? { before } : { after })"
              >all letters</v-btn
            >
          </h2>
          <LetterStrip
            v-if="found[side].length"
            :steps="found[side]"
            :prefix="prefix"
            :label="side === 'after' ? 'Letters of the next word' : 'Letters of the word before'"
            @choose="letter"
          />
          <p v-else class="small">
            {{ side === "after" ? "Nothing comes after it." : "Nothing comes before it." }}
          </p>
        </section>
        <section class="beside" aria-label="Words beside it">
          <h2 class="small"><span v-explain="'words-beside'">words beside it</span></h2>
          <WordsBeside
            v-if="found.beside.length"
            :steps="found.beside"
            @add="(word) => go([...words, word])"
          />
          <p v-else class="small">No other word: it stands alone.</p>
        </section>
      </div>
      <p v-if="ledger.ready.value && ledger.length.value === 0" class="nothing">
        No term {{ how === "any" ? "has any of" : "has" }} “{{ words.join(" ") }}”{{
          without ? ` without “${without}”` : ""
        }}.
        {{
          exact
            ? "Try it without exact spelling."
            : how === "inside"
              ? "Try fewer letters."
              : "Try fewer words, or its letters inside words."
        }}
      </p>
      <div v-else class="list">
        <LedgerTable
          ref="table"
          label="Terms"
          word="term"
          :columns="TERM_COLUMNS"
          :is-marked="() => false"
          :count="ledger.length.value"
          :conditions="ledger.conditions.value"
          :row-at="ledger.rowAt"
          :selected="selected"
          :sort="sort"
          :as-of="asOf"
          :arrival-of="arrivalOf"
          :figures="figures.data.value ?? []"
          @select="(place) => (selected = place)"
          @sort="sort = $event"
          @view="(first, last) => (inView = { first, last })"
        />
      </div>
      <section v-if="row" class="foot" aria-label="Selected term">
        <h2 class="serif">{{ row.name }}</h2>
        <dl>
          <div v-for="{ key, label, value } in facts" :key="key">
            <dt v-explain:figure="key">{{ label }}</dt>
            <dd>{{ value }}</dd>
          </div>
        </dl>
        <div class="acts">
          <v-btn @click="openNiche">Open its niche</v-btn>
          <FileLinks :address="files" :what="exported" />
        </div>
      </section>
    </MarketGate>
  </div>
</template>

<style scoped>
.terms {
  display: flex;
  flex-direction: column;
  height: 100%;
}

.list {
  display: flex;
  flex: 1 1 0;
  min-height: 0;
}

.list > * {
  min-width: 0;
}

/* In a low or narrow window the page scrolls, for the ledger would have no row left. */
@media (max-height: 540px), (max-width: 760px) {
  .terms {
    overflow-y: auto;
  }

  .list {
    flex: none;
    height: 380px;
  }
}

.told {
  min-height: 20px;
  margin: 0;
  padding: 0 20px 6px;
}

.onward {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 28px;
  padding: 0 20px 6px;
  border-bottom: 1px solid var(--rule);
  background: var(--page);
}

.next {
  flex: 3 1 420px;
  min-width: 0;
}

.beside {
  flex: 2 1 280px;
  min-width: 0;
}

h2.small {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  margin: 4px 0;
  font-weight: 400;
}

.nothing {
  flex: 1;
  margin: 0;
  padding: 24px 20px;
}

.foot {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 24px;
  padding: 10px 20px;
  border-top: 1px solid var(--ink);
  background: var(--page);
}

.foot h2 {
  margin: 0;
  font-size: 17px;
  overflow-wrap: anywhere;
}

.foot dl {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 20px;
  margin: 0;
}

.foot dt {
  font: 11px/1.2 var(--condensed);
  color: var(--ink2);
}

.foot dd {
  margin: 0;
}

.acts {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin-left: auto;
}
</style>
