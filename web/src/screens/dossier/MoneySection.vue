<script setup lang="ts">
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import type { ApiError, Schemas } from "@/api/client";
import { saveFees } from "@/api/desk";
import { COSTS, nicheQueries, saveCosts } from "@/api/niche";
import { formatCount, UNKNOWN } from "@/format/values";
import { useNotice } from "@/state/useNotice";
import TextField from "@/ui/TextField.vue";

type Answer = Schemas["Paying"];
type Cost = keyof Schemas["CostsNow"];

/** What is reckoned with, what comes of it, and the fees behind it; kept for the niche as typed. */
const props = defineProps<{ market: string; niche: string; answer: Answer }>();

const cache = useQueryClient();
const { notify } = useNotice();

interface Line {
  key: Cost;
  says: string;
  /** Shares are typed in percent. */
  share?: boolean;
  from: string;
}
const LINES: Line[] = [
  { key: "price", says: "price a buyer pays", from: "median of the listings" },
  { key: "goods", says: "goods, at the maker’s door", from: "a guess, a quarter of the price" },
  { key: "duty", says: "duty on goods", share: true, from: "none" },
  { key: "freight", says: "freight a unit", from: "none" },
  { key: "commission", says: "commission of the price", share: true, from: "an example" },
  { key: "handling", says: "handling fee", from: "the size class" },
  { key: "weight_g", says: "weight, g", from: "median of the top ten" },
  { key: "longest_mm", says: "longest side, mm", from: "median of the top ten" },
  { key: "advertising", says: "advertising of the price", share: true, from: "an example" },
  { key: "returns", says: "sent back", share: true, from: "the niche’s return rate" },
  { key: "resold", says: "of that sold again", share: true, from: "an example" },
  { key: "wanted", says: "margin wanted", share: true, from: "an example" },
];

const paying = computed(() => props.answer.paying);
const given = computed(() => new Set<string>(paying.value?.given ?? []));

/** As it is typed; empty where it comes from the readings or an example. */
const typed = ref<Partial<Record<Cost, string>>>({});
const text = (line: Line, value: number, digits = 6): string =>
  String(Number((line.share ? value * 100 : value).toPrecision(digits)));
// Only with another niche: an answer that comes while the next cost is typed must not take it away.
watch(
  () => props.niche,
  () => {
    typed.value = Object.fromEntries(
      LINES.filter((line) => given.value.has(line.key)).map((line) => [
        line.key,
        text(line, paying.value?.costs[line.key] ?? 0),
      ]),
    );
  },
  { immediate: true },
);

function usual(line: Line): string {
  const value = paying.value?.costs[line.key];
  if (value === null || value === undefined) return line.from;
  return `${text(line, value, 4)}${line.share ? "%" : ""}, ${line.from}`;
}

async function keep(): Promise<void> {
  const costs: Record<string, number> = {};
  for (const line of LINES) {
    const entry = (typed.value[line.key] ?? "").trim().replace(",", ".").replace("%", "");
    if (!entry) continue;
    const value = Number(entry);
    if (!Number.isFinite(value)) {
      notify(`“${entry}” is no number for ${line.says}; write it like 12.50.`);
      return;
    }
    costs[line.key] = line.share ? value / 100 : value;
  }
  // One after the other, so that the last one typed is the last one kept.
  saving = saving.then(() => send(props.market, props.niche, costs));
  await saving;
}

let saving: Promise<void> = Promise.resolve();
async function send(market: string, niche: string, costs: Record<string, number>): Promise<void> {
  try {
    const answer = await saveCosts({ market_id: market, niche_id: niche, costs });
    cache.setQueryData(nicheQueries.costs(market, niche).queryKey, answer);
  } catch (error) {
    notify(`Not kept: ${(error as ApiError).message}`);
  }
}

const money = (value: number | null | undefined): string =>
  value === null || value === undefined ? UNKNOWN : value.toFixed(2).replace("-", "−");
const percent = (value: number | null | undefined): string =>
  value === null || value === undefined
    ? UNKNOWN
    : `${(value * 100).toFixed(1).replace("-", "−")}%`;

/** From the price down to what is left, a step a cost, at the price and at the year's lowest. */
const steps = computed(() => {
  const made = paying.value;
  if (!made) return [];
  const { result, lowest, costs, lowest_price } = made;
  const row = (key: string, head: string, of: (r: typeof result) => number, sign = -1) => ({
    key,
    head,
    now: money(sign * of(result)),
    then: lowest ? money(sign * of(lowest)) : UNKNOWN,
  });
  return [
    { key: "price", head: "price", now: money(costs.price), then: money(lowest_price) },
    row("landed", "landed cost", (r) => r.landed),
    { key: "handling", head: `handling${result.size_class ? `, class ${result.size_class}` : ""}`, now: money(-result.handling), then: lowest ? money(-lowest.handling) : UNKNOWN },
    row("commission", "commission", (r) => r.commission),
    row("advertising", "advertising", (r) => r.advertising),
    row("left", "left", (r) => r.left, 1),
    { key: "margin", head: "margin", now: percent(result.margin), then: percent(lowest?.margin) },
    { key: "roi", head: "return on landed cost", now: percent(result.roi), then: percent(lowest?.roi) },
    row("lost_to_returns", "returns take of it", (r) => r.lost_to_returns),
    { key: "break_even", head: "break-even price", now: money(result.break_even), then: "" },
    { key: "most", head: "most it may cost landed", now: money(result.most), then: lowest ? money(lowest.most) : UNKNOWN },
  ];
}); // prettier-ignore

/** The line whose working is open. */
const open = ref("");
const workingOf = (key: string) => paying.value?.workings.find((one) => one.key === key);

const fees = ref<{ name: string; upto_g: string; upto_mm: string; fee: string }[]>([]);
watch(
  () => paying.value?.classes,
  (classes) => {
    fees.value = (classes ?? []).map((one) => ({
      name: one.name,
      upto_g: one.upto_g === null ? "" : String(one.upto_g),
      upto_mm: one.upto_mm === null ? "" : String(one.upto_mm),
      fee: String(one.fee),
    }));
  },
  { immediate: true },
);

async function keepFees(): Promise<void> {
  const limit = (entry: string): number | null => (entry.trim() ? Number(entry) : null);
  try {
    await saveFees({
      market_id: props.market,
      classes: fees.value.map((one) => ({
        name: one.name,
        upto_g: limit(one.upto_g),
        upto_mm: limit(one.upto_mm),
        fee: Number(one.fee),
      })),
    });
    await cache.invalidateQueries({ queryKey: COSTS });
    notify("Fees kept for this market.");
  } catch (error) {
    notify(`Not kept: ${(error as ApiError).message}`);
  }
}
</script>

<template>
  <div class="money">
    <form class="costs" @submit.prevent="keep" @change="keep">
      <div v-for="line in LINES" :key="line.key" class="line">
        <span>{{ line.says }}{{ line.share ? ", %" : "" }}</span>
        <TextField
          v-model="typed[line.key]"
          inputmode="decimal"
          :label="line.says"
          :placeholder="usual(line)"
        />
      </div>
      <p class="small">
        An empty field takes what its grey text says. What is typed is kept for this niche.
      </p>
      <v-btn variant="plain" class="unseen" type="submit">Reckon</v-btn>
    </form>
    <v-table v-if="paying" class="steps">
      <caption class="small">
        Per unit
      </caption>
      <thead>
        <tr>
          <td />
          <th scope="col">at the price</th>
          <th scope="col">at the year’s lowest</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="step in steps" :key="step.key">
          <tr :class="{ left: step.key === 'left' }">
            <th scope="row">{{ step.head }}</th>
            <td>
              <v-btn
                v-if="workingOf(step.key)"
                variant="plain"
                class="number-button"
                :aria-expanded="open === step.key"
                :data-tip="workingOf(step.key)?.formula"
                @click="open = open === step.key ? '' : step.key"
              >
                {{ step.now }}
              </v-btn>
              <template v-else>{{ step.now }}</template>
            </td>
            <td>{{ step.then }}</td>
          </tr>
          <tr v-if="open === step.key">
            <td colspan="3" class="working">
              {{ step.head }} = {{ workingOf(step.key)?.formula }}<br />
              = {{ workingOf(step.key)?.numbers }}
            </td>
          </tr>
        </template>
        <tr>
          <th scope="row">left of a year of the typical listing</th>
          <td>{{ formatCount(paying.typical_left) }}</td>
          <td />
        </tr>
      </tbody>
    </v-table>
    <details v-if="paying" class="fees">
      <summary>Handling fees of this market by size class</summary>
      <v-table>
        <thead>
          <tr>
            <th scope="col">class</th>
            <th scope="col">up to g</th>
            <th scope="col">up to mm</th>
            <th scope="col">fee</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(one, i) in fees" :key="i">
            <td><TextField v-model="one.name" :label="`Name of class ${i + 1}`" /></td>
            <td>
              <TextField
                v-model="one.upto_g"
                :label="`Weight limit of class ${i + 1}`"
                placeholder="any"
              />
            </td>
            <td>
              <TextField
                v-model="one.upto_mm"
                :label="`Length limit of class ${i + 1}`"
                placeholder="any"
              />
            </td>
            <td><TextField v-model="one.fee" :label="`Fee of class ${i + 1}`" /></td>
          </tr>
        </tbody>
      </v-table>
      <p class="acts">
        <v-btn @click="fees.push({ name: '', upto_g: '', upto_mm: '', fee: '' })">
          Add a class
        </v-btn>
        <v-btn :disabled="fees.length < 2" @click="fees.pop()"> Take the last away </v-btn>
        <v-btn @click="keepFees">Keep the fees</v-btn>
      </p>
      <p class="small">
        The fees that come with Driftfield are examples, no marketplace’s; put the real ones in
        their place.
      </p>
    </details>
  </div>
</template>

<style scoped>
.money {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 14px 40px;
  align-items: start;
}

.line {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  align-items: baseline;
  padding: 2px 0;
}

.line .v-input {
  font-weight: 600;
}

.v-table :deep(table) {
  border-collapse: collapse;
  width: 100%;
}

caption {
  text-align: left;
}

th,
td {
  text-align: right;
  font-weight: 400;
  padding: 3px 0 3px 14px;
  border-bottom: 1px solid var(--rule);
}

thead th {
  font: 11px var(--condensed);
  color: var(--ink3);
}

tr > :first-child {
  text-align: left;
  padding-left: 0;
}

.left > * {
  font-weight: 600;
  border-top: 1px solid var(--ink);
}

.working {
  text-align: left;
  padding: 4px 0 8px 14px;
  color: var(--ink2);
}

.fees {
  grid-column: 1 / -1;
  max-width: 560px;
}

summary {
  cursor: pointer;
  padding: 4px 0;
  color: var(--q5);
}

.acts {
  display: flex;
  gap: 16px;
}

@media (max-width: 820px) {
  .money {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
