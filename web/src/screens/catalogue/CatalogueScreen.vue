<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { refDebounced } from "@vueuse/core";
import { computed, defineAsyncComponent, ref, watch } from "vue";
import { useRouter } from "vue-router";
import type { Choice } from "@/api/client";
import { CATEGORIES } from "@/api/client";
import { previewQueries } from "@/api/previews";
import { registryQueries } from "@/api/registry";
import { formatCount } from "@/format/values";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useLens } from "@/screens/parts/lens/useLens";
import SieveSentence from "@/screens/parts/sieve/SieveSentence.vue";
import { useDecisions } from "@/state/useDecisions";
import { KINDS, provideKind } from "@/state/useKind";
import { useMarked } from "@/state/useMarked";
import { useElsewhere } from "@/state/useElsewhere";
import { useMarket } from "@/state/useMarket";
import { useSideBySide } from "@/state/useSideBySide";
import { useShortcuts } from "@/state/useShortcuts";
import { useTabTitle } from "@/state/useTabTitle";
import SelectField from "@/ui/SelectField.vue";
import TextField from "@/ui/TextField.vue";
import CategoryPane from "./CategoryPane.vue";
import IcicleChart from "./IcicleChart.vue";
import OpennessChart from "./OpennessChart.vue";
import TreeTable from "./TreeTable.vue";
import { useCatalogue } from "./useCatalogue";
import { useCatalogueView, VIEWS } from "./useCatalogueView";

// What is shown only when it is asked for is loaded then.
const LensSheet = defineAsyncComponent(() => import("@/screens/parts/lens/LensSheet.vue"));
const CategoryWorking = defineAsyncComponent(() => import("./CategoryWorking.vue"));

/** From above: the tree of a market's categories, and beside it one of them at a glance. */
const kind = provideKind(KINDS.categories);
const router = useRouter();
const { market, id } = useMarket();
const { decide, undo } = useDecisions();
const registry = useQuery(registryQueries.figures());
const catalogue = useCatalogue(id);
const { tree, rows, chosen, sort, find, conditions, figure, lens, toggle } = catalogue;
const { marked, isMarked, toggle: mark, clear } = useMarked();
const sideBySide = useSideBySide();
watch(id, clear); // Those of another market are not in this one.
const compare = (): void => sideBySide(id.value, marked.value);

const found = useQuery(
  computed(() => ({
    ...previewQueries.category(id.value ?? "", chosen.value ?? "", lens.value),
    enabled: Boolean(id.value && chosen.value),
  })),
);
const category = computed(() => found.data.value);
useTabTitle(() => (category.value ? `${category.value.name} · Catalogue` : "Catalogue"));

const lensed = useLens(CATEGORIES, id, lens);
const lensOpen = ref(false);
const workingOpen = ref(false);

const { view, next: nextView, under, showNamed, beginWith } = useCatalogueView();

/** What is typed is sought a moment later. */
const typed = ref(find.value);
const settled = refDebounced(typed, 200);
watch(settled, (text) => (find.value = text));
watch(find, (text) => text !== settled.value && (typed.value = text));
const field = ref<InstanceType<typeof TextField> | null>(null);
const sentence = ref<InstanceType<typeof SieveSentence> | null>(null);
const pane = ref<InstanceType<typeof CategoryPane> | null>(null);

/** Figures of numbers that categories have, as a column of one's choice. */
const SHOWN = new Set(["amount", "count", "share", "change", "index", "ratio"]);
const figures = computed(() =>
  (registry.data.value ?? []).filter(
    (one) => one.kinds.includes(CATEGORIES) && SHOWN.has(one.type),
  ),
);
const extra = computed(() => figures.value.find((one) => one.key === figure.value));
const choices = computed(() => [
  { title: "add a figure", value: "" },
  ...figures.value.map((one) => ({ title: one.label, value: one.key })),
]);

const at = computed(() => rows.value.findIndex((row) => row.id === chosen.value));
const row = computed(() => rows.value[at.value]);
function walk(steps: number): void {
  const next = rows.value[Math.min(rows.value.length - 1, Math.max(0, at.value + steps))];
  if (next) chosen.value = next.id;
}
/** Into a branch: opened, or its first one. */
function into(): void {
  if (!row.value?.children) return;
  if (row.value.open) walk(1);
  else toggle(row.value.id, true);
}
/** Out of it: closed, or the one above. */
function out(): void {
  if (row.value?.open && row.value.children) return toggle(row.value.id, false);
  const above = category.value?.above.at(-1);
  if (above) chosen.value = above.id;
}
function aside(steps: number): void {
  const list = category.value?.siblings ?? [];
  const next = list[list.findIndex((one) => one.id === chosen.value) + steps];
  if (next) chosen.value = next.id;
}
function sortBy(key: string): void {
  sort.value = sort.value === `-${key}` ? key : `-${key}`;
}
function decideOn(choice: Choice): void {
  if (category.value && id.value) void decide(id.value, category.value, choice);
}
function toField(more: string[] = []): void {
  if (!category.value) return;
  const c = [category.value.condition, ...more];
  void router.push({ path: "/field", query: { market: id.value, c } });
}

const elsewhere = useElsewhere();
useShortcuts([
  { keys: ["ArrowDown", "j"], label: "↓", does: "Next category", run: () => walk(1) },
  { keys: ["ArrowUp"], label: "↑", does: "Category before", run: () => walk(-1) },
  { keys: ["ArrowRight"], label: "→", does: "Open the branch, or go into it", run: into },
  { keys: ["ArrowLeft"], label: "←", does: "Close the branch, or go one level up", run: out },
  { keys: ["]"], does: "Next category of the same level", run: () => aside(1) },
  { keys: ["["], does: "Category before, of the same level", run: () => aside(-1) },
  {
    keys: ["v"],
    does: "At a glance, as an icicle, open against settled",
    run: nextView,
  },
  { keys: ["Enter"], does: "Its niches on the Field", run: () => toField() },
  { keys: ["/"], does: "Find a category by name", run: () => field.value?.focus() },
  { keys: ["f"], does: "Type a condition", run: () => sentence.value?.focus() },
  {
    keys: [" "],
    label: "Space",
    does: "Mark",
    run: () => void (chosen.value && mark(chosen.value)),
  },
  { keys: ["c"], does: "Set the marked ones side by side", run: compare },
  elsewhere.shortcut(() => chosen.value),
  { keys: ["l"], does: "Open or close the lens", run: () => (lensOpen.value = !lensOpen.value) },
  {
    keys: ["w"],
    does: "Show the working",
    run: () => (workingOpen.value = Boolean(category.value)),
  },
  { keys: ["k"], does: "Keep", run: () => decideOn("keep") },
  { keys: ["p"], does: "Park", run: () => decideOn("park") },
  { keys: ["x"], does: "Pass", run: () => decideOn("pass") },
  { keys: ["u"], does: "Undo the latest decision", run: () => void undo() },
  { keys: ["t"], does: "Type a note", run: () => pane.value?.focus() },
]);
const NONE = {
  title: "No categories are known",
  text: "Import a table categories, and give niches or listings a category_id. Then this page shows how big each one is, when it sells and how open it is.",
};
const known = computed(() => tree.data.value);
const sieved = computed(() => find.value !== "" || conditions.value.length > 0);
</script>

<template>
  <div class="catalogue">
    <MarketGate
      :pending="!known || !market"
      :failure="tree.error.value"
      :empty="known?.total === 0 && NONE"
      @retry="tree.refetch()"
    >
      <template v-if="market && known">
        <section class="tree" aria-label="The tree">
          <div class="head">
            <h1 class="serif">Catalogue</h1>
            <TextField
              ref="field"
              v-model="typed"
              label="Find a category by name"
              placeholder="find by name"
              class="find"
              @keydown.esc="((typed = ''), field?.blur())"
            />
            <SelectField v-model="figure" label="A figure besides" :items="choices" />
            <SelectField v-model="view" label="View" :items="VIEWS" />
            <v-btn v-explain="'lens'" :aria-expanded="lensOpen" @click="lensOpen = !lensOpen">
              Lens: {{ lensed.name.value }}
            </v-btn>
          </div>
          <SieveSentence
            ref="sentence"
            v-model:conditions="conditions"
            class="sieve"
            :market="market.market_id"
            :sieve="known.conditions"
            :figures="registry.data.value ?? []"
            placeholder="openness 55 to 100"
          />
          <p v-if="sieved" class="small" role="status">
            <b>{{ formatCount(known.passing) }}</b> of {{ formatCount(known.total) }}
            {{ kind.many }} pass;
            {{ known.passing ? "what leads to them stands in grey" : "the tree is empty" }}
            <v-btn v-if="conditions.length" @click="conditions = []">Clear the conditions</v-btn>
          </p>
          <p v-if="marked.length" class="small marked">
            <b>{{ marked.length }}</b> marked:
            <v-btn @click="compare">Side by side</v-btn>
            <v-btn @click="clear">Unmark</v-btn>
          </p>
          <TreeTable
            :rows="rows"
            :market="market"
            :chosen="chosen"
            :sort="sort"
            :figure="extra"
            :is-marked="isMarked"
            @mark="mark"
            @choose="chosen = $event"
            @toggle="toggle"
            @sort="sortBy"
          />
          <p v-if="known.shown > rows.length" class="small">
            The first {{ formatCount(rows.length) }} of {{ formatCount(known.shown) }} rows are
            shown: close branches, or find by name.
          </p>
        </section>
        <v-layout class="right">
          <v-main
            tag="div"
            class="shown"
            tabindex="0"
            role="region"
            aria-label="The category at a glance"
          >
            <OpennessChart
              v-if="view === 'chart'"
              :market="market"
              :chosen="chosen"
              :lens="lens"
              @choose="showNamed"
            />
            <IcicleChart
              v-else-if="view === 'icicle'"
              :market="market"
              :figures="registry.data.value ?? []"
              :chosen="chosen"
              :under="under"
              @choose="showNamed"
              @begin="beginWith"
            />
            <MarketGate
              v-else
              :pending="!category"
              :failure="found.error.value"
              @retry="found.refetch()"
            >
              <CategoryPane
                v-if="category"
                ref="pane"
                :key="category.id"
                :category="category"
                :market="market"
                :lens="lens && lensed.name.value"
                @choose="chosen = $event"
                @decide="decideOn"
                @condition="toField([$event])"
                @field="toField()"
                @working="workingOpen = true"
              />
            </MarketGate>
          </v-main>
          <LensSheet
            v-if="lensOpen"
            :of="CATEGORIES"
            :market="market.market_id"
            :parts="lensed.parts.value"
            :weights="lensed.weights.value"
            :figures="registry.data.value ?? []"
            @set="lensed.set"
            @use="lensed.use"
            @close="lensOpen = false"
          />
        </v-layout>
        <CategoryWorking
          v-if="workingOpen && category"
          v-model="workingOpen"
          :category="category"
          :figures="registry.data.value ?? []"
        />
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.catalogue {
  display: flex;
  height: 100%;
}

.tree {
  flex: none;
  width: 460px;
  max-width: 46%;
  overflow: auto;
  scrollbar-width: thin;
  padding: 10px 0 12px var(--gutter);
  border-right: 1px solid var(--rule);
}

.head {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 10px;
  padding-right: 8px;
}

h1 {
  margin: 0 auto 0 0;
  font-size: 20px;
}

.find {
  flex: 0 1 110px;
}

.small {
  margin: 4px 0;
}

.sieve {
  padding-right: 8px;
}

.marked {
  padding: 1px 6px;
  background: var(--ochre-wash);
}

.small .v-btn {
  margin-left: 10px;
}

.right {
  flex: 1;
  margin: 0;
  min-width: 0;
}

.shown {
  background: var(--page);
  overflow-y: auto;
  scrollbar-width: thin;
}

@media (max-width: 900px) {
  .catalogue {
    display: block;
    height: auto;
  }

  .tree {
    width: auto;
    max-width: none;
    max-height: 46vh;
    padding-right: var(--gutter);
    border-right: 0;
    border-bottom: 1px solid var(--rule);
  }
}
</style>
