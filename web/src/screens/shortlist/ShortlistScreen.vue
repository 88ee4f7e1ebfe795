<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { CATEGORIES, type Choice, type Kind, NICHES, TERMS } from "@/api/client";
import { orderQueries } from "@/api/orders";
import { registryQueries } from "@/api/registry";
import EmptyView from "@/ui/EmptyView.vue";
import MarketGate from "@/screens/parts/MarketGate.vue";
import FileLinks from "@/ui/FileLinks.vue";
import { useDecisions } from "@/state/useDecisions";
import { useMarked } from "@/state/useMarked";
import { useNotice } from "@/state/useNotice";
import { useTabTitle } from "@/state/useTabTitle";
import { useShortcuts } from "@/state/useShortcuts";
import { KINDS, useKindNamed } from "@/state/useKind";
import { useMarket } from "@/state/useMarket";
import EntryFoot from "./EntryFoot.vue";
import ShortlistTable from "./ShortlistTable.vue";
import { type PlannedOrder, plannedOrders } from "./plannedOrders";
import { nextSort, sortEntries } from "./sortEntries";
import { type Entry, type Listed, useEntries } from "./useEntries";

const route = useRoute();
const router = useRouter();
const { market, id } = useMarket();
useTabTitle("Shortlist");
const figures = useQuery(registryQueries.figures());
const BRIEFED = new Set<Kind>([NICHES, CATEGORIES]);
const SKIMMED = new Set<Kind>([NICHES, TERMS]);
const kind = useKindNamed(Object.values(KINDS));
const { decide, undo } = useDecisions();
const { notify } = useNotice();

/** Which decisions are listed stands in the address, as “kept,passed”. */
const choices = computed<Listed[]>({
  get: () => {
    const wanted = String(route.query["show"] ?? "keep,park").split(",");
    return (["keep", "park", "pass"] as const).filter((one) => wanted.includes(one));
  },
  set: (list) => void router.replace({ query: { ...route.query, show: list.join(",") } }),
});
const tag = computed({
  get: () => String(route.query["tag"] ?? ""),
  set: (word) => void router.push({ query: { ...route.query, tag: word || undefined } }),
});
const {
  list,
  entries: listed,
  tags,
  saveTags,
  explain,
  move,
} = useEntries(kind.of, id, choices, tag);
/** What is planned of the niches here; it comes when the list stands. */
const orders = useQuery(
  computed(() => ({
    ...orderQueries.all(id.value ?? ""),
    enabled: Boolean(id.value) && kind.of === NICHES && Boolean(list.data.value?.length),
  })),
);
const planned = computed(() => {
  if (kind.of !== NICHES) return undefined;
  return orders.data.value ? plannedOrders(orders.data.value) : new Map<string, PlannedOrder>();
});
const sort = computed({
  get: () => String(route.query["sort"] ?? ""),
  set: (key) => void router.replace({ query: { ...route.query, sort: key || undefined } }),
});
const entries = computed(() => sortEntries(listed.value, sort.value));
/** The order by hand shows and can be changed only where all entries stand in it. */
const movable = computed(() => tag.value === "" && sort.value === "");
const { marked, isMarked, toggle, clear } = useMarked();

/** The selected entry, which the address repeats; where it is gone, the one at its place is selected. */
const selected = ref(String(route.query[kind.named] ?? ""));
const last = ref(0);
watch(
  () => route.query[kind.named],
  (named) => typeof named === "string" && (selected.value = named),
);
const place = computed({
  get: () => {
    const named = entries.value.findIndex((one) => one.id === selected.value);
    return named >= 0 ? named : Math.max(0, Math.min(last.value, entries.value.length - 1));
  },
  set: (at) => {
    const named = entries.value[at]?.id;
    if (!named) return;
    last.value = at;
    selected.value = named;
    void router.replace({ query: { ...route.query, [kind.named]: named } });
  },
});
const entry = computed<Entry | undefined>(() => entries.value[place.value]);
const foot = ref<InstanceType<typeof EntryFoot> | null>(null);
const wanted = computed(() =>
  marked.value.filter((one) => entries.value.some((e) => e.id === one)),
);
const file = computed(
  () =>
    `/api/desk/shortlist/file/?${new URLSearchParams([
      ["market", id.value ?? ""],
      ["of", kind.of],
      ...choices.value.map((one) => ["choice", one]),
    ])}`,
);
const of = kind.of === NICHES ? undefined : kind.of;
const toRows = (path: string, ids: string[]) => ({
  path,
  query: { of, market: id.value, [kind.named]: ids },
});
const briefed = computed(() =>
  wanted.value.length ? wanted.value : entries.value.map((one) => one.id),
);

function show(choice: Listed, on: boolean): void {
  choices.value = on ? [...choices.value, choice] : choices.value.filter((one) => one !== choice);
}

function walk(steps: number): void {
  place.value = Math.max(0, Math.min(entries.value.length - 1, place.value + steps));
}

function decideOn(one: Entry | undefined, choice: Choice): void {
  if (one && id.value) void decide(id.value, one, choice);
}

/** The entry moves and stays selected. */
function moveHere(by: number): void {
  if (!entry.value) return;
  if (!movable.value) {
    notify(
      "Sorted or filtered lists have no order by hand: click the heading until its arrow goes.",
    );
    return;
  }
  selected.value = entry.value.id;
  void move(entry.value, by);
}

/** Its page; of a term its row, from which everything else is near. */
function open(): void {
  if (!entry.value?.present) return;
  const path = kind.page ?? kind.home;
  void router.push({ path, query: { market: id.value, [kind.named]: entry.value.id } });
}

function compare(): void {
  if (wanted.value.length > 1) void router.push(toRows("/compare", wanted.value));
}

function moveTo(from: number, to: number): void {
  const one = entries.value[from];
  if (!one) return;
  selected.value = one.id;
  void move(one, to - from);
}

useShortcuts([
  { keys: ["ArrowDown", "j"], label: "↓", does: `Next ${kind.one}`, run: (e) => (e.shiftKey ? moveHere(1) : walk(1)) },
  { keys: ["ArrowUp"], label: "↑", does: `The ${kind.one} before; with Shift it moves`, run: (e) => (e.shiftKey ? moveHere(-1) : walk(-1)) },
  { keys: ["k"], does: "Keep", run: () => decideOn(entry.value, "keep") },
  { keys: ["p"], does: "Park", run: () => decideOn(entry.value, "park") },
  { keys: ["x"], does: "Pass", run: () => decideOn(entry.value, "pass") },
  { keys: ["u"], does: "Undo the latest decision", run: () => void undo() },
  { keys: [" "], label: "Space", does: "Mark", run: () => entry.value && toggle(entry.value.id) },
  { keys: ["c"], does: "Set the marked ones side by side", run: compare },
  { keys: ["Enter"], does: kind.of === NICHES ? "Open the niche’s dossier" : `Open it in ${kind.screen}`, run: open },
  { keys: ["t"], does: "Type a note", run: () => foot.value?.focus() },
]); // prettier-ignore

const SHOWN: { choice: Listed; word: string }[] = [
  { choice: "keep", word: "kept" },
  { choice: "park", word: "parked" },
  { choice: "pass", word: "passed" },
];
</script>

<template>
  <div class="shortlist">
    <MarketGate
      :pending="!list.data.value || !market"
      :failure="list.error.value"
      @retry="list.refetch()"
    >
      <template v-if="market">
        <section class="band" aria-label="What is listed">
          <h1 class="serif">Shortlist</h1>
          <span class="kinds" role="group" aria-label="What is listed">
            <RouterLink
              v-for="one in KINDS"
              :key="one.of"
              :to="{
                query: {
                  market: route.query['market'],
                  of: one.of === NICHES ? undefined : one.of,
                },
              }"
              :aria-current="one.of === kind.of ? 'page' : undefined"
              >{{ one.many }}</RouterLink
            >
          </span>
          <v-checkbox
            v-for="{ choice, word } in SHOWN"
            :key="choice"
            :label="word"
            :model-value="choices.includes(choice)"
            @update:model-value="show(choice, $event === true)"
          />
          <span v-if="tags.length" class="tags">
            <v-btn
              v-for="[word, many] in tags"
              :key="word"
              variant="plain"
              class="tag"
              :aria-pressed="tag === word"
              @click="tag = tag === word ? '' : word"
            >
              {{ word }} {{ many }}
            </v-btn>
          </span>
          <span class="acts">
            <template v-if="wanted.length">
              {{ wanted.length }} marked
              <v-btn :disabled="wanted.length < 2" @click="compare"> Side by side </v-btn>
              <v-btn @click="clear">Unmark</v-btn>
            </template>
            <v-btn v-if="entries.length && BRIEFED.has(kind.of)" :to="toRows('/brief', briefed)">{{
              wanted.length ? "Briefs of the marked" : "Briefs to print"
            }}</v-btn>
            <FileLinks
              :address="file"
              :what="`${list.data.value?.length ?? 0} ${list.data.value?.length === 1 ? 'row' : 'rows'}`"
            />
          </span>
        </section>
        <EmptyView
          v-if="!entries.length"
          :title="tag ? `Nothing carries “${tag}”` : 'Nothing is kept or parked yet'"
          :text="
            tag
              ? 'Choose another tag, or the same again to see all.'
              : `Keep (k) and park (p) ${kind.many} in ${kind.screen}${SKIMMED.has(kind.of) ? ', or skim through a sieve’s result (s)' : ''}; they gather here with the figures of the day.`
          "
        >
          <v-btn :to="{ path: kind.home, query: { market: id } }">To {{ kind.screen }}</v-btn>
        </EmptyView>
        <template v-else>
          <ShortlistTable
            :entries="entries"
            :place="place"
            :market="market"
            :figures="figures.data.value ?? []"
            :movable="movable"
            :sort="sort"
            :is-marked="isMarked"
            :planned="planned"
            @sort="sort = nextSort(sort, $event)"
            @select="place = $event"
            @mark="toggle"
            @decide="decideOn"
            @move="moveTo"
          />
          <EntryFoot
            v-if="entry && id"
            ref="foot"
            :entry="entry"
            :market="id"
            :figures="figures.data.value ?? []"
            :explain="explain"
            :save-tags="saveTags"
          />
        </template>
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.shortlist {
  display: flex;
  flex-direction: column;
  height: 100%;
}

.band {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 8px 14px;
  padding: 9px var(--gutter) 7px;
  background: var(--page);
  border-bottom: 1px solid var(--rule);
}

h1 {
  font-size: 18px;
  margin: 0 6px 0 0;
}

.acts {
  margin-left: auto;
  display: flex;
  align-items: baseline;
  gap: 14px;
  font-size: 12px;
  color: var(--ink2);
}

.acts a {
  text-decoration: none;
}

.kinds {
  display: inline-flex;
  gap: 4px;
}

.kinds a {
  color: var(--q5);
  padding: 2px 6px;
  min-height: 24px;
}

.kinds a[aria-current] {
  color: var(--ink);
  text-decoration: none;
}

.tags {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 6px;
}

.tag {
  border: 1px solid var(--rule);
  border-radius: 2px;
  background: none;
  padding: 0 5px;
  cursor: pointer;
}

.tag[aria-pressed="true"] {
  border-color: var(--ochre);
  background: var(--ochre-wash);
}
</style>
