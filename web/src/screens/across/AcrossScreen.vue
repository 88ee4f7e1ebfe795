<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { refDebounced } from "@vueuse/core";
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { acrossQueries, type Crossing, type MarketBeside } from "@/api/across";
import type { Kind } from "@/api/client";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { KINDS, useKindNamed } from "@/state/useKind";
import { useMarket, useNamed } from "@/state/useMarket";
import { useShortcuts } from "@/state/useShortcuts";
import { useTabTitle } from "@/state/useTabTitle";
import SelectField from "@/ui/SelectField.vue";
import TextField from "@/ui/TextField.vue";
import PairLists from "./PairLists.vue";
import RowAcross from "./RowAcross.vue";
import { useMatches } from "./useMatches";

/** Several markets: matches to confirm or reject, and one niche, term or category in all of them. */
const TYPING = 250; // Milliseconds after the last letter.
const route = useRoute();
const router = useRouter();
const { market, markets, id } = useMarket();
// A listing is sold in one market.
const CROSSING = Object.values(KINDS).filter((one) => one.crossing);
const kind = useKindNamed(CROSSING);
const crossing = kind.of as Crossing;
const named = useNamed(kind);
const row = computed(() => named.value[0] ?? "");
const { busy, decide, undo, keepRate, last } = useMatches();

/** The currency of amounts; empty for that of the market one is in. */
const into = computed({
  get: () => String(route.query["into"] ?? ""),
  set: (value) =>
    void router.replace({
      query: { ...route.query, into: value === market.value?.currency ? undefined : value },
    }),
});
const found = useQuery(
  computed(() => ({
    ...acrossQueries.row(crossing, id.value ?? "", row.value, into.value),
    enabled: Boolean(id.value && row.value),
  })),
);
const title = computed(() => found.data.value?.markets[0]?.name ?? row.value);
useTabTitle(computed(() => (row.value ? `${title.value} · Across markets` : "Across markets")));

const kinds = CROSSING.map((one) => ({ title: one.many, value: one.of }));
const of = computed<Kind>({
  get: () => kind.of,
  set: (value) => void router.replace({ query: { market: id.value, of: value } }),
});
const others = computed(() =>
  (markets.data.value ?? []).filter((one) => one.market_id !== id.value),
);
const other = computed({
  get: () => {
    const asked = others.value.find((one) => one.market_id === route.query["other"]);
    return (asked ?? others.value[0])?.market_id ?? "";
  },
  set: (value) => void router.replace({ query: { ...route.query, other: value } }),
});
const otherMarket = computed(() => others.value.find((one) => one.market_id === other.value));
const typed = ref("");
const find = refDebounced(
  computed(() => typed.value.trim()),
  TYPING,
);

function open(one: string): void {
  void router.push({ query: { ...route.query, [kind.named]: one } });
}
function toList(): void {
  const query = Object.entries(route.query).filter(([key]) => key !== kind.named);
  void router.push({ query: Object.fromEntries(query) });
}
type Pair = { id: string; other_id: string; name: string };
function decideOn(pairs: Pair[], there: string, same: boolean): void {
  const matches = pairs.map((one) => ({
    of: crossing,
    market_id: id.value ?? "",
    id: one.id,
    other_market_id: there,
    other_id: one.other_id,
    same,
  }));
  const what = pairs.length === 1 ? `“${pairs[0]?.name}”` : `${pairs.length} matches`;
  void decide(matches, `${what}: ${same ? "confirmed" : "rejected"}`);
}
function part(match: number | null, one: MarketBeside): void {
  if (match !== null) void undo([match]);
  else decideOn([{ id: row.value, other_id: one.id, name: one.name }], one.market_id, false);
}
function rateOf(currency: string, rate: number | null, day: string): void {
  const into = found.data.value?.currency ?? "";
  void keepRate(
    { currency, into, rate, day: day || null },
    rate === null ? "Exchange rate removed." : "Exchange rate saved.",
  );
}
function undoLast(): void {
  if (last.value.length) void undo(last.value);
}

useShortcuts([
  { keys: ["u"], does: "Undo the latest decision on a match", run: undoLast },
  { keys: ["Escape"], label: "Esc", does: "Back", run: () => router.back() },
]);
const ONE = {
  title: "There is one market",
  text: "Import another one, with its own market_id, to compare what both have.",
};
const retry = (): void => void found.refetch();
</script>

<template>
  <div class="across">
    <MarketGate
      :pending="!market || (row !== '' && found.isPending.value)"
      :failure="found.error.value"
      :empty="markets.data.value?.length === 1 && ONE"
      @retry="retry"
    >
      <template v-if="market">
        <header>
          <h1 class="serif">
            <template v-if="row">{{ title }} <span class="small">across markets</span></template
            ><span v-else v-explain="'across-markets'">Across markets</span>
          </h1>
          <template v-if="row">
            <v-btn @click="toList">All matched {{ kind.many }}</v-btn>
          </template>
          <template v-else>
            <SelectField v-model="of" label="What is matched" :items="kinds" />
            <span class="small"
              >of {{ market.name }} and {{ others.length === 1 ? otherMarket?.name : "" }}</span
            >
            <SelectField
              v-if="others.length > 1"
              v-model="other"
              label="The other market"
              :items="others.map((one) => ({ title: one.name, value: one.market_id }))"
            />
            <TextField
              v-model="typed"
              class="find"
              label="Letters that a name must have"
              placeholder="find by name"
              @keydown.esc.stop="typed = ''"
            />
          </template>
        </header>
        <RowAcross
          v-if="row && found.data.value"
          :kind="kind"
          :found="found.data.value"
          :markets="markets.data.value ?? []"
          :busy="busy"
          @into="into = $event"
          @match="
            (there, one) => decideOn([{ id: row, other_id: one.id, name: one.name }], there, true)
          "
          @refuse="
            (there, one) => decideOn([{ id: row, other_id: one.id, name: one.name }], there, false)
          "
          @part="part"
          @rate="rateOf"
        />
        <PairLists
          v-else-if="!row && otherMarket"
          :kind="kind"
          :market="market"
          :other="otherMarket"
          :find="find"
          :busy="busy"
          @open="open"
          @decide="(pairs, same) => decideOn(pairs, other, same)"
          @undo="(match) => undo([match])"
        />
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.across {
  position: relative;
  height: 100%;
  overflow: auto;
  padding: 0 var(--gutter) 24px;
  box-sizing: border-box;
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 16px;
  padding: 10px 0 6px;
}

h1 {
  font-size: 20px;
  margin: 0;
}

.find {
  flex: 0 1 220px;
}

header > .v-btn {
  margin-left: auto;
}

@media print {
  .across {
    height: auto;
    overflow: visible;
  }

  .v-btn {
    display: none;
  }
}
</style>
