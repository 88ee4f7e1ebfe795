<script setup lang="ts">
import { computed, nextTick, ref, watch } from "vue";
import type { ApiError, Choice, LedgerRow } from "@/api/client";
import { useFigures, useMarkets, useParts, usePreview } from "@/api/queries";
import { sayCount, yearShare } from "@/shared/format";
import { useShortcuts } from "@/shared/useShortcuts";
import EmptyField from "./EmptyField.vue";
import LedgerTable from "./LedgerTable.vue";
import LensSheet from "./LensSheet.vue";
import NicheFoot from "./NicheFoot.vue";
import SieveLine from "./SieveLine.vue";
import { useDecisions } from "./useDecisions";
import { useFieldState } from "./useFieldState";
import { useLedger } from "./useLedger";
import { useLens } from "./useLens";
import WorkingSheet from "./WorkingSheet.vue";

const state = useFieldState();
const { conditions, near, lens, sort, niche } = state;
const markets = useMarkets();
const figures = useFigures();

const market = computed(
  () =>
    markets.data.value?.find((one) => one.market_id === state.market.value) ??
    markets.data.value?.[0],
);
const inView = ref({ first: 0, last: 0 });
const ask = computed(() => ({
  market: state.market.value,
  c: conditions.value.length ? conditions.value : undefined,
  near: near.value ? ("yes" as const) : undefined,
  lens: lens.value || undefined,
  sort: sort.value,
}));
const ledger = useLedger(ask, inView);

const selected = ref(0);
const row = computed(() => ledger.rowAt(selected.value));
const preview = usePreview(
  () => market.value?.market_id,
  () => row.value?.niche_id,
);
const asOf = computed(() => yearShare(market.value?.as_of ?? "2000-01-01"));
const arrival = computed(() => yearShare(market.value?.arrival ?? "2000-01-01"));

const { said, decide, undo } = useDecisions();
const table = ref<InstanceType<typeof LedgerTable> | null>(null);
const sieve = ref<InstanceType<typeof SieveLine> | null>(null);
const workingOpen = ref(false);
const lensOpen = ref(false);
const parts = useParts();
const moved = useLens(
  lens,
  computed(() => parts.data.value ?? []),
);

/** A URL that names a niche opens on it, when it is among the first rows. */
watch(
  () => ledger.ready.value,
  (ready) => {
    if (!ready || !niche.value) return;
    for (let i = 0; i < Math.min(ledger.length.value, 100); i++)
      if (ledger.rowAt(i)?.niche_id === niche.value) selected.value = i;
  },
  { immediate: true },
);
watch(row, (now, before) => {
  if (now && before && now.niche_id !== before.niche_id) niche.value = now.niche_id;
});
watch(
  // By its text, for the address also changes when only another niche is selected.
  () => JSON.stringify(ask.value),
  () => (selected.value = 0),
);

function choose(place: number): void {
  selected.value = place;
  const chosen = ledger.rowAt(place);
  if (chosen) niche.value = chosen.niche_id;
}

function walk(steps: number): void {
  const last = Math.max(0, ledger.length.value - 1);
  selected.value = Math.min(last, Math.max(0, selected.value + steps));
  table.value?.focus();
}

async function decideOn(one: LedgerRow, choice: Choice): Promise<void> {
  if (market.value) await decide(market.value.market_id, one, choice);
}

/** By key the decision is made and the next niche comes up: a yes or no in seconds. */
function decideHere(choice: Choice): void {
  const here = row.value;
  if (!here) return;
  void decideOn(here, choice);
  walk(1);
}

useShortcuts([
  { keys: ["ArrowDown", "j"], label: "↓", does: "Next niche", run: () => walk(1) },
  { keys: ["ArrowUp"], label: "↑", does: "Niche before", run: () => walk(-1) },
  { keys: ["PageDown"], does: "A page on", run: () => walk(table.value?.page() ?? 10) },
  { keys: ["PageUp"], does: "A page back", run: () => walk(-(table.value?.page() ?? 10)) },
  { keys: ["Home"], does: "First niche", run: () => walk(-Infinity) },
  { keys: ["End"], does: "Last niche", run: () => walk(Infinity) },
  { keys: ["k"], does: "Keep, and on to the next", run: () => decideHere("keep") },
  { keys: ["p"], does: "Park, and on to the next", run: () => decideHere("park") },
  { keys: ["x"], does: "Pass, and on to the next", run: () => decideHere("pass") },
  { keys: ["u"], does: "Undo the latest decision", run: () => void undo() },
  { keys: ["l"], does: "Open or close the lens", run: () => (lensOpen.value = !lensOpen.value) },
  { keys: ["w"], does: "Show the working", run: () => (workingOpen.value = Boolean(row.value)) },
  {
    keys: ["/"],
    does: "Type a condition or words",
    run: () => void nextTick(() => sieve.value?.focus()),
  },
]);

/** What to do when nothing passes: the condition that alone removes most, if one does. */
const nobody = computed(() => {
  const most = [...ledger.conditions.value].sort((a, b) => (b.removes ?? 0) - (a.removes ?? 0))[0];
  if (most?.removes) {
    return `“${most.says}” alone removes ${sayCount(most.removes)}. Change it or switch it off.`;
  }
  return "No niche meets all of the conditions above; no single one is to blame. Switch some off.";
});

const failure = computed(
  () => (markets.error.value as ApiError | null) ?? ledger.error.value ?? null,
);
const nothingLoaded = computed(() => markets.data.value?.length === 0);

function tryAgain(): void {
  void markets.refetch();
  ledger.retry();
}
</script>

<template>
  <div class="field">
    <EmptyField
      v-if="nothingLoaded"
      title="No figures are loaded yet"
      text="Driftfield reads weekly searches from a folder of CSV files, or a zip of them. Only one is required, term_weeks.csv, with a line a term and week: term, week, searches."
      retry
      @retry="tryAgain"
    >
      <p>Load your own:</p>
      <pre>bin/driftfield import FOLDER</pre>
      <p>or the invented market that comes with it:</p>
      <pre>bin/driftfield import demo/harrow-quay.zip</pre>
    </EmptyField>
    <EmptyField
      v-else-if="failure"
      :title="failure.title"
      :text="failure.message"
      retry
      @retry="tryAgain"
    />
    <template v-else>
      <SieveLine
        ref="sieve"
        v-model:conditions="conditions"
        v-model:near="near"
        v-model:lens-open="lensOpen"
        :lens="lens"
        :market="market?.market_id"
        :said="ledger.conditions.value"
        :figures="figures.data.value ?? []"
        :count="ledger.count.value"
        :near-count="ledger.near.value"
        :total="ledger.total.value"
      />
      <EmptyField
        v-if="ledger.ready.value && ledger.length.value === 0"
        title="No niche passes"
        :text="nobody"
      />
      <div v-else class="middle">
        <LedgerTable
          ref="table"
          :count="ledger.length.value"
          :conditions="ledger.conditions.value"
          :row-at="ledger.rowAt"
          :selected="selected"
          :sort="sort"
          :as-of="asOf"
          :arrival="arrival"
          :figures="figures.data.value ?? []"
          @select="choose"
          @sort="sort = $event"
          @decide="decideOn"
          @view="(first, last) => (inView = { first, last })"
        />
        <LensSheet
          v-if="lensOpen"
          :parts="parts.data.value ?? []"
          :weights="moved.weights.value"
          :figures="figures.data.value ?? []"
          @set="moved.set"
          @use="moved.use"
          @close="lensOpen = false"
        />
      </div>
      <NicheFoot
        :niche="row ? preview.data.value : undefined"
        :error="preview.error.value?.message"
        @working="workingOpen = true"
      />
    </template>
    <WorkingSheet
      v-model="workingOpen"
      :niche="preview.data.value"
      :figures="figures.data.value ?? []"
    />
    <v-snackbar
      :model-value="said !== ''"
      :timeout="5000"
      location="bottom"
      color="surface"
      @update:model-value="said = ''"
    >
      <span role="status">{{ said }}</span>
    </v-snackbar>
  </div>
</template>

<style scoped>
.middle {
  display: flex;
  position: relative;
  flex: 1;
  min-height: 0;
}

.middle > :first-child {
  min-width: 0;
}

.field {
  display: flex;
  flex-direction: column;
  height: 100%;
}
</style>
