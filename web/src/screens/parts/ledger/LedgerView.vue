<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, defineAsyncComponent, nextTick, ref, useSlots, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { CATEGORIES, type Choice, type LedgerRow, LISTINGS, NICHES } from "@/api/client";
import { ledgerQueries, PAGE } from "@/api/ledger";
import { registryQueries } from "@/api/registry";
import { usePreview } from "@/state/usePreview";
import { formatCount, yearShare } from "@/format/values";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useDecisions } from "@/state/useDecisions";
import { useElsewhere } from "@/state/useElsewhere";
import { useKind } from "@/state/useKind";
import type { UseListStateReturn } from "@/state/useListState";
import { useNotice } from "@/state/useNotice";
import { type Shortcut, useShortcuts } from "@/state/useShortcuts";
import { arrivalShare, useMarket } from "@/state/useMarket";
import type ChartPaneView from "./ChartPane.vue";
import ColumnMenu from "./ColumnMenu.vue";
import ExportMenu from "./ExportMenu.vue";
import LedgerTable from "./LedgerTable.vue";
import PreviewPane from "./PreviewPane.vue";
import SieveLine from "@/screens/parts/sieve/SieveLine.vue";
import type { Column } from "./columns";
import { useColumns } from "./useColumns";
import { useLedger } from "./useLedger";
import { useLens } from "@/screens/parts/lens/useLens";
import { useMarkedRows } from "./useMarkedRows";

/** The ledger of the screen's kind: its sieve, rows or chart, lens, and the selected row close up; worked by keys. */
const props = defineProps<{
  state: UseListStateReturn;
  /** What the ledger is called. */
  label: string;
  /** The columns it shows until others are chosen. */
  usual: Column[];
}>();
const emit = defineEmits<{
  /** The selected row is to be opened. */
  open: [row: { id: string; niche: string }];
}>();

// What is shown only when it is asked for is loaded then, so that the first row does not wait for it.
const ChartPane = defineAsyncComponent(() => import("./ChartPane.vue"));
const NothingPasses = defineAsyncComponent(() => import("@/screens/parts/sieve/NothingPasses.vue"));
const LensSheet = defineAsyncComponent(() => import("@/screens/parts/lens/LensSheet.vue"));
const WorkingSheet = defineAsyncComponent(() => import("@/screens/parts/WorkingSheet.vue"));

/** Kinds whose seasons stand on the almanac. */
const DATED = new Set<string>([NICHES, CATEGORIES, LISTINGS]);
const cache = useQueryClient();
const route = useRoute();
const router = useRouter();
const kind = useKind();
const slots = useSlots();
const named = kind.one[0]?.toUpperCase() + kind.one.slice(1);
// The state is made once for a screen and never replaced.
const { ask: asked, conditions, near, lens, sort, id, view } = props.state;
const { market } = useMarket();
const figures = useQuery(registryQueries.figures());

const inView = ref({ first: 0, last: 0 });
const registry = computed(() => figures.data.value ?? []);
/** Those of the kind: what it has no figure of is not unknown. */
const own = computed(() => registry.value.filter((one) => one.kinds.includes(kind.of)));
const shown = useColumns(kind, props.usual, registry);
const ask = computed(() => ({
  ...asked.value,
  figures: shown.figures.value.join(",") || undefined,
}));
const ledger = useLedger(ask, inView);

const selected = ref(0);
const row = computed(() => ledger.rowAt(selected.value));
/** In the chart any can be chosen, whether or not its page of the ledger is loaded. */
const chosen = computed(() =>
  view.value === "chart" ? (id.value ?? row.value?.id) : row.value?.id,
);
const preview = usePreview(() => market.value?.market_id, chosen);
const asOf = computed(() => yearShare(market.value?.as_of ?? "2000-01-01"));
/** Terms are planned with the market’s lead time, also those of a niche with one of its own. */
const arrivalOf = (niche: string): number =>
  market.value ? arrivalShare(market.value, kind.of === NICHES ? niche : "") : 0;

const { marked, isMarked, toggle, clear, markAt, markAll, decideMarked, compare, files } =
  useMarkedRows(() => market.value?.market_id, ask, asked);

/** How many rows an export takes. */
const exported = computed(() => {
  const many = marked.value.length || ledger.length.value;
  const rows = `${formatCount(many)} ${marked.value.length ? "marked " : ""}${many === 1 ? "row" : "rows"}`;
  return ledger.ready.value ? rows : "rows";
});
const { decide, undo } = useDecisions();
const { notify } = useNotice();
const chart = ref<InstanceType<typeof ChartPaneView> | null>(null);
const workingOf = ref("");
const table = ref<InstanceType<typeof LedgerTable> | null>(null);
const sieve = ref<InstanceType<typeof SieveLine> | null>(null);
const workingOpen = ref(false);
const workingMade = ref(false);
watch(workingOpen, () => (workingMade.value = true), { once: true, flush: "sync" });
const lensOpen = ref(false);
const lensed = useLens(kind.of, () => market.value?.market_id, lens);

const empty = computed(() => ledger.ready.value && ledger.length.value === 0);
defineExpose({ ready: ledger.ready, total: ledger.total, length: ledger.length });

/** A URL that names a row opens on it, however far down that is: so one comes back from a dossier. */
watch(
  () => ledger.ready.value,
  async (ready) => {
    const named = id.value;
    if (!ready || !named) return;
    for (let i = 0; i < Math.min(ledger.length.value, PAGE); i++) {
      if (ledger.rowAt(i)?.id !== named) continue;
      selected.value = i;
      return;
    }
    if (ledger.length.value <= PAGE) return;
    const place = await cache.fetchQuery(ledgerQueries.place(asked.value, named));
    // Unless another row was chosen meanwhile.
    if (place !== null && id.value === named) selected.value = place;
  },
  { immediate: true },
);
watch(row, (now, before) => {
  if (view.value === "ledger" && now && before && now.id !== before.id) id.value = now.id;
});
watch(
  // By its text, for the address also changes when only another row is selected.
  () => JSON.stringify(asked.value),
  () => (selected.value = 0),
);

function choose(place: number): void {
  selected.value = place;
  const chosen = ledger.rowAt(place);
  if (chosen) id.value = chosen.id;
}

function walk(steps: number): void {
  if (view.value === "chart") {
    id.value = chart.value?.next(steps) ?? id.value;
    return;
  }
  const last = Math.max(0, ledger.length.value - 1);
  selected.value = Math.min(last, Math.max(0, selected.value + steps));
  table.value?.focus();
}

async function decideOn(one: LedgerRow, choice: Choice): Promise<void> {
  if (market.value) await decide(market.value.market_id, one, choice);
}

/** By key the decision is made and the next row comes up: a yes or no in seconds. */
function decideHere(choice: Choice): void {
  const here = view.value === "chart" ? preview.data.value : row.value;
  if (!here || !market.value) {
    notify(`Nothing was decided: the ${kind.one} is not loaded yet.`);
    return;
  }
  void decide(market.value.market_id, here, choice);
  walk(1);
}

function openWorking(at: number, figure: string): void {
  choose(at);
  workingOf.value = figure;
  workingOpen.value = true;
}

/** What passes, one at a time; the selected row does not matter, the list is taken up where it was left. */
function skim(): void {
  const query = { ...route.query, of: asked.value.of, [kind.named]: undefined, view: undefined };
  void router.push({ path: "/skim", query });
}

/** The same rows on the calendar. */
const onAlmanac = computed(() =>
  DATED.has(kind.of)
    ? {
        path: "/almanac",
        query: {
          market: market.value?.market_id,
          of: asked.value.of,
          c: asked.value.c,
          near: asked.value.near,
          lens: asked.value.lens,
        },
      }
    : undefined,
);

function open(): void {
  // The foot is what one sees of it; a row may still be of the figures before.
  const close = preview.data.value;
  const here = view.value === "chart" || close?.id === row.value?.id ? close : row.value;
  if (here) emit("open", here);
}

const elsewhere = useElsewhere();
function showWorking(): void {
  workingOf.value = "";
  workingOpen.value = Boolean(chosen.value);
}

const ofRanked: Shortcut[] = [
  { keys: ["l"], does: "Open or close the lens", run: () => (lensOpen.value = !lensOpen.value) },
  {
    keys: ["g"],
    does: "Ledger or chart",
    run: () => (view.value = view.value === "chart" ? "ledger" : "chart"),
  },
  { keys: ["d"], does: "Draw an area of the chart", run: () => chart.value?.draw() },
];
useShortcuts([
  { keys: ["ArrowDown", "j"], label: "↓", does: `Next ${kind.one}`, run: () => walk(1) },
  { keys: ["ArrowUp"], label: "↑", does: `${named} before`, run: () => walk(-1) },
  { keys: ["PageDown"], does: "A page on", run: () => walk(table.value?.page() ?? 10) },
  { keys: ["PageUp"], does: "A page back", run: () => walk(-(table.value?.page() ?? 10)) },
  { keys: ["Home"], does: `First ${kind.one}`, run: () => walk(-Infinity) },
  { keys: ["End"], does: `Last ${kind.one}`, run: () => walk(Infinity) },
  { keys: ["k"], does: "Keep, and on to the next", run: () => decideHere("keep") },
  { keys: ["p"], does: "Park, and on to the next", run: () => decideHere("park") },
  { keys: ["x"], does: "Pass, and on to the next", run: () => decideHere("pass") },
  { keys: ["u"], does: "Undo the latest decision", run: () => void undo() },
  {
    keys: [" "],
    label: "Space",
    does: "Mark; with Shift all from the last mark",
    run: (e) => void markAt(selected.value, row.value?.id, e.shiftKey),
  },
  { keys: ["a"], does: "Mark all that pass", run: () => void markAll() },
  { keys: ["c"], does: "Set the marked ones side by side", run: compare },
  ...(kind.ranked ? ofRanked : []),
  { keys: ["s"], does: "Skim what passes, one at a time", run: skim },
  {
    keys: ["Enter"],
    does:
      kind.of === NICHES
        ? "Open the niche’s dossier"
        : kind.page
          ? `Open the ${kind.one}’s page`
          : `Open the ${kind.one}’s niche`,
    run: open,
  },
  { keys: ["w"], does: "Show the working", run: showWorking },
  ...(kind.crossing ? [elsewhere.shortcut(() => chosen.value)] : []),
  {
    // Where “/” types something else, as a seed, “f” is left.
    keys: slots["top"] ? ["f"] : ["/", "f"],
    does: "Type a condition or words",
    run: () => void nextTick(() => sieve.value?.focus()),
  },
]);
</script>

<template>
  <div class="ledger" :class="{ topped: slots['top'] }">
    <MarketGate
      :pending="ledger.ready.value ? false : undefined"
      :failure="ledger.error.value"
      @retry="ledger.retry"
    >
      <slot name="top" />
      <SieveLine
        ref="sieve"
        v-model:conditions="conditions"
        v-model:near="near"
        v-model:lens-open="lensOpen"
        :lens="kind.ranked ? lensed.name.value : undefined"
        :market="market?.market_id"
        :sieve="ledger.conditions.value"
        :figures="figures.data.value ?? []"
        :count="ledger.count.value"
        :near-count="ledger.near.value"
        :total="ledger.total.value"
      >
        <v-btn-toggle v-if="kind.ranked" v-model="view" aria-label="How they are shown">
          <v-btn
            v-for="one in ['ledger', 'chart'] as const"
            :key="one"
            :value="one"
            :aria-pressed="view === one"
          >
            {{ one }}
          </v-btn>
        </v-btn-toggle>
        <v-btn @click="skim">Skim them</v-btn>
        <v-btn v-if="onAlmanac" :to="onAlmanac">Almanac</v-btn>
        <ColumnMenu
          v-if="view === 'ledger'"
          :usual="usual"
          :columns="shown.columns.value"
          :figures="registry"
          :changed="shown.changed.value"
          @toggle="shown.toggle"
          @move="shown.move"
          @reset="shown.reset"
        />
        <ExportMenu v-bind="files" :what="exported" />
      </SieveLine>
      <section v-if="marked.length" class="marked" :aria-label="`Marked ${kind.many}`">
        <b>{{ marked.length }}</b> marked:
        <v-btn @click="decideMarked('keep')">Keep</v-btn>
        <v-btn @click="decideMarked('park')">Park</v-btn>
        <v-btn @click="decideMarked('pass')">Pass</v-btn>
        <v-btn @click="compare">Side by side</v-btn>
        <slot name="marked" :marked="marked" :clear="clear" />
        <v-btn @click="clear">Unmark</v-btn>
      </section>
      <slot v-if="empty && !ledger.conditions.value.length" name="nothing" />
      <NothingPasses
        v-else-if="empty"
        :ask="ask"
        :conditions="ledger.conditions.value"
        :blocked="ledger.blocked.value"
        @change="conditions = $event"
        @near="near = true"
      />
      <v-layout v-else class="middle">
        <v-main tag="div" class="shown">
          <ChartPane
            v-if="view === 'chart'"
            ref="chart"
            :ask="asked"
            :market="market"
            :selected="chosen"
            @select="id = $event"
            @add="conditions = [...conditions, $event]"
          />
          <LedgerTable
            v-else
            ref="table"
            :label="label"
            :word="kind.one"
            :columns="shown.columns.value"
            :is-marked="isMarked"
            :count="ledger.length.value"
            :conditions="ledger.conditions.value"
            :row-at="ledger.rowAt"
            :selected="selected"
            :sort="sort"
            :as-of="asOf"
            :arrival-of="arrivalOf"
            :figures="figures.data.value ?? []"
            @select="choose"
            @sort="sort = $event"
            @decide="decideOn"
            @mark="(one) => toggle(one.id)"
            @resize="shown.resize"
            @working="openWorking"
            @view="(first, last) => (inView = { first, last })"
          />
        </v-main>
        <LensSheet
          v-if="lensOpen && kind.ranked"
          :of="kind.of"
          :market="market?.market_id"
          :parts="lensed.parts.value"
          :weights="lensed.weights.value"
          :figures="figures.data.value ?? []"
          @set="lensed.set"
          @use="lensed.use"
          @close="lensOpen = false"
        />
        <slot v-else-if="chosen" :id="chosen" name="beside" />
      </v-layout>
      <PreviewPane
        :subject="chosen ? preview.data.value : undefined"
        :error="preview.error.value?.message"
        @working="showWorking"
        @open="open"
        ><v-btn v-if="elsewhere.several.value && chosen" class="small" :to="elsewhere.toRow(chosen)"
          >Other markets</v-btn
        ><slot name="acts"
      /></PreviewPane>
    </MarketGate>
    <WorkingSheet
      v-if="workingMade"
      v-model="workingOpen"
      :figure="workingOf"
      :subject="preview.data.value"
      :figures="own"
    />
  </div>
</template>

<style scoped>
.middle {
  flex: 1 1 0;
  min-height: 0;
}

.shown {
  display: flex;
  min-width: 0;
}

.shown > * {
  min-width: 0;
}

/* A list that is opened in it lies over the rows, which the library's layout has at 900. */
.marked {
  position: relative;
  z-index: 901;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
  padding: 5px var(--gutter);
  background: var(--ochre-wash);
  border-bottom: 1px solid var(--rule);
}

.ledger {
  display: flex;
  flex-direction: column;
  height: 100%;
}

/* In a low window, or one that is enlarged, the page scrolls, for the ledger would have no row left. */
@media (max-height: 540px) {
  .ledger {
    height: auto;
  }

  .middle {
    flex: none;
    height: 320px;
  }
}

/* So it does where something stands above the ledger that takes more lines in a narrow window. */
@media (max-width: 760px) {
  .topped {
    height: auto;
  }

  .topped .middle {
    flex: none;
    height: 380px;
  }
}
</style>
