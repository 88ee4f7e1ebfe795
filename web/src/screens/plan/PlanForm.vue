<script setup lang="ts">
import { computed } from "vue";
import type { PlanDocument } from "@/api/plans";
import SelectField from "@/ui/SelectField.vue";
import FieldRows from "./FieldRows.vue";
import { type Field, OWN, PRODUCT, QUOTE, SELLING, WAY } from "./fields";

/** What a plan is made from; each change makes it anew. */
const document = defineModel<PlanDocument>({ required: true });

function set(changed: Partial<PlanDocument>): void {
  document.value = { ...document.value, ...changed };
}
const within = (part: "quote" | "selling" | "product", key: string, value: unknown): void =>
  set({ [part]: { ...(document.value[part] ?? {}), [key]: value } });

const ORDER: Field[] = [
  { key: "name", label: "name of the plan", as: "text", usual: "Plan A" },
  { key: "ordered", label: "day of ordering", as: "day", usual: "" },
  { key: "quantity", label: "units, if not the best", usual: "the best" },
  { key: "service", label: "not sold out in, %", as: "share", usual: "what earns most" },
  { key: "budget", label: "cash at hand", usual: "" },
  { key: "sold_as", label: "sold as, id of your listing", as: "text", usual: "not listed yet" },
];

type Until = "usual" | "season" | "weeks" | "until";
const until = computed<Until>({
  get: () => {
    const wanted = document.value.for;
    if (!wanted) return "usual";
    if (wanted === "season") return "season";
    return wanted.weeks === undefined ? "until" : "weeks";
  },
  set: (how) =>
    set({
      for:
        how === "usual"
          ? null
          : how === "season"
            ? "season"
            : how === "weeks"
              ? { weeks: 13 }
              : { until: document.value.ordered ?? "" },
    }),
});
const UNTIL: { title: string; value: Until }[] = [
  { title: "the season, else 13 weeks", value: "usual" },
  { title: "the season to come", value: "season" },
  { title: "some weeks on sale", value: "weeks" },
  { title: "up to a day", value: "until" },
];
const WEEKS: Field[] = [{ key: "weeks", label: "weeks on sale", usual: "13" }];
const DAY: Field[] = [{ key: "until", label: "last day", as: "day", usual: "" }];

type From = "newcomers" | "listing" | "share" | "own";
const from = computed<From>({
  get: () => {
    const units = document.value.units;
    if (!units || units === "newcomers") return "newcomers";
    if (units.own !== undefined) return "own";
    return units.listing === undefined ? "share" : "listing";
  },
  set: (how) => set({ units: FIRST[how] }),
});
const FIRST: Record<From, PlanDocument["units"]> = {
  newcomers: null,
  listing: { listing: "" },
  share: { share: 0.05 },
  own: { own: "" },
};
const FROM: { title: string; value: From }[] = [
  { title: "what newcomers reached", value: "newcomers" },
  { title: "a listing to be matched", value: "listing" },
  { title: "a share of the niche", value: "share" },
  { title: "your own sales", value: "own" },
];
const LISTING: Field[] = [{ key: "listing", label: "its id", as: "text", usual: "" }];
const SHARE: Field[] = [{ key: "share", label: "share, %", as: "share", usual: "5" }];
const MINE: Field[] = [{ key: "own", label: "of your listing", as: "text", usual: "in the niche" }];
const FIELDS = { listing: LISTING, share: SHARE, own: MINE };

const leftover = computed({
  get: () => document.value.leftover?.do ?? "usual",
  set: (how: string) =>
    set({
      leftover: how === "usual" ? null : { ...(document.value.leftover ?? {}), do: how },
    }),
});
const LEFTOVER = [
  { title: "cleared; sold on all year", value: "usual" },
  { title: "cleared at a lower price", value: "clear" },
  { title: "kept for the next season", value: "carry" },
  { title: "worth nothing", value: "nothing" },
];
const CLEARED: Field[] = [{ key: "at", label: "at, % of the price", as: "share", usual: "40, assumed" }]; // prettier-ignore
const CARRIED: Field[] = [{ key: "weeks", label: "for weeks", usual: "52" }];

const BREAK: Field[] = [
  { key: "units", label: "from units", usual: "1" },
  { key: "cost", label: "cost a unit", usual: "" },
];
const breaks = computed(() => document.value.quote?.breaks ?? []);
function setBreak(at: number, key: string, value: unknown): void {
  within("quote", "breaks", breaks.value.map((one, i) => (i === at ? { ...one, [key]: value } : one))); // prettier-ignore
}
function addBreak(): void {
  const last = breaks.value.at(-1);
  within("quote", "breaks", [
    ...breaks.value,
    { units: (last?.units ?? 1) + 200, cost: last?.cost ?? 0 },
  ]);
}
const ways = computed(() => document.value.transport ?? []);
const setWay = (at: number, key: string, value: unknown): void =>
  set({ transport: ways.value.map((one, i) => (i === at ? { ...one, [key]: value } : one)) });
function addWay(): void {
  const left = 1 - ways.value.reduce((sum, one) => sum + (one.share ?? 0), 0);
  set({ transport: [...ways.value, { name: "air", days: 9, share: Math.max(0, left) }] });
}
const drop = <T,>(list: T[], at: number): T[] => list.filter((_, i) => i !== at);
</script>

<template>
  <form class="form" aria-label="What the plan is made from" @submit.prevent>
    <section>
      <h3>The order</h3>
      <FieldRows
        :fields="ORDER"
        :values="document"
        of="the order"
        @change="(key, value) => set({ [key]: value })"
      />
      <div class="pick">
        <span>for</span><SelectField v-model="until" label="What is ordered for" :items="UNTIL" />
      </div>
      <FieldRows
        v-if="until === 'weeks' || until === 'until'"
        :fields="until === 'weeks' ? WEEKS : DAY"
        :values="(document.for ?? {}) as Record<string, unknown>"
        of="what is ordered for"
        @change="(key, value) => set({ for: { [key]: value } })"
      />
      <div class="pick">
        <span>units by</span
        ><SelectField v-model="from" label="What tells the units" :items="FROM" />
      </div>
      <FieldRows
        v-if="from !== 'newcomers'"
        :fields="FIELDS[from]"
        :values="(document.units ?? {}) as Record<string, unknown>"
        of="what tells the units"
        @change="(key, value) => set({ units: { [key]: value ?? (from === 'share' ? null : '') } })"
      />
      <div class="pick">
        <span>leftovers</span
        ><SelectField v-model="leftover" label="What is done with leftovers" :items="LEFTOVER" />
      </div>
      <FieldRows
        v-if="leftover === 'clear' || leftover === 'carry'"
        :fields="leftover === 'clear' ? CLEARED : CARRIED"
        :values="document.leftover ?? {}"
        of="leftovers"
        @change="(key, value) => set({ leftover: { ...(document.leftover ?? {}), [key]: value } })"
      />
    </section>
    <section>
      <h3>Supplier’s quote</h3>
      <div v-for="(one, at) in breaks" :key="at" class="several">
        <FieldRows
          row
          :fields="BREAK"
          :values="one"
          :of="`price break ${at + 1}`"
          @change="(key, value) => setBreak(at, key, value)"
        />
        <v-btn
          v-if="breaks.length > 1"
          :aria-label="`Remove price break ${at + 1}`"
          @click="within('quote', 'breaks', drop(breaks, at))"
          >Remove</v-btn
        >
      </div>
      <v-btn @click="addBreak">Add a price break</v-btn>
      <FieldRows
        :fields="QUOTE"
        :values="document.quote ?? {}"
        of="the quote"
        @change="(key, value) => within('quote', key, value)"
      />
      <v-checkbox
        :model-value="document.quote?.['assumed'] === true"
        label="Assumed: nobody has asked this price yet"
        @update:model-value="within('quote', 'assumed', $event === true)"
      />
    </section>
    <section>
      <h3>Transport</h3>
      <div v-for="(one, at) in ways" :key="at" class="several">
        <FieldRows
          row
          :fields="WAY"
          :values="one"
          :of="`way ${at + 1}`"
          @change="(key, value) => setWay(at, key, value)"
        />
        <v-btn
          v-if="ways.length > 1"
          :aria-label="`Remove way ${at + 1}`"
          @click="set({ transport: drop(ways, at) })"
          >Remove</v-btn
        >
      </div>
      <v-btn @click="addWay">Add a way</v-btn>
    </section>
    <section>
      <h3>Selling</h3>
      <FieldRows
        :fields="SELLING"
        :values="document.selling ?? {}"
        of="selling"
        @change="(key, value) => within('selling', key, value)"
      />
    </section>
    <section>
      <h3>The product</h3>
      <FieldRows
        :fields="PRODUCT"
        :values="document.product ?? {}"
        of="the product"
        @change="(key, value) => within('product', key, value)"
      />
    </section>
    <section>
      <h3>How you reckoned yourself</h3>
      <FieldRows
        :fields="OWN"
        :values="document.own_figure ?? {}"
        of="your own reckoning"
        @change="
          (key, value) =>
            set({
              own_figure: { ...(document.own_figure ?? {}), [key]: value } as Record<
                string,
                number | null
              >,
            })
        "
      />
    </section>
  </form>
</template>

<style scoped>
section {
  padding: 6px 0 10px;
  border-bottom: 1px solid var(--rule);
}

h3 {
  margin: 0 0 3px;
  font-size: 13px;
}

.pick {
  display: flex;
  gap: 10px;
  align-items: baseline;
  justify-content: space-between;
}

.several {
  display: flex;
  gap: 8px;
  align-items: end;
  margin-bottom: 4px;
}

.several > :first-child {
  flex: 1;
}
</style>
