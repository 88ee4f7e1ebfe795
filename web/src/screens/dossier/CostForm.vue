<script setup lang="ts">
import { useQueryClient } from "@tanstack/vue-query";
import { ref, watch } from "vue";
import type { ApiError, Schemas } from "@/api/client";
import { nicheQueries, saveCosts } from "@/api/niche";
import { formatMoney } from "@/format/money";
import { typedNumber } from "@/format/typed";
import { useNotice } from "@/state/useNotice";
import TextField from "@/ui/TextField.vue";

type Cost = keyof Schemas["CostsNow"];
type UnitEconomics = NonNullable<Schemas["Profitability"]["paying"]>;

/** The costs of a niche as they are typed; what is left empty comes from the readings or is an example. */
const props = defineProps<{ market: string; niche: string; paying: UnitEconomics | null }>();

const cache = useQueryClient();
const { notify } = useNotice();

interface Line {
  key: Cost;
  label: string;
  /** Shares are typed in percent. */
  share?: boolean;
  from: string;
}
const LINES: Line[] = [
  { key: "price", label: "price a buyer pays", from: "median of the listings" },
  { key: "tax", label: "value added tax", share: true, from: "the market’s setting" },
  { key: "goods", label: "unit cost, ex works", from: "a guess, a quarter of the price" },
  { key: "duty", label: "duty on goods", share: true, from: "none" },
  { key: "freight", label: "freight a unit", from: "none" },
  { key: "commission", label: "commission of the price", share: true, from: "an example" },
  { key: "handling", label: "handling fee", from: "the size class" },
  { key: "storage", label: "storage a unit a month", from: "none" },
  { key: "months", label: "months in store", from: "an example" },
  { key: "weight_g", label: "weight, g", from: "median of the top ten" },
  { key: "longest_mm", label: "longest side, mm", from: "median of the top ten" },
  { key: "advertising", label: "advertising of the price", share: true, from: "an example" },
  { key: "returns", label: "returns", share: true, from: "the niche’s return rate" },
  { key: "resold", label: "share of returns resold", share: true, from: "an example" },
  { key: "wanted", label: "margin wanted", share: true, from: "an example" },
];

const MONEY = new Set<Cost>(["price", "goods", "freight", "handling", "storage"]);

/** As it is typed; empty where it comes from the readings or an example. */
const typed = ref<Partial<Record<Cost, string>>>({});
const text = (line: Line, value: number, digits = 6): string =>
  String(Number((line.share ? value * 100 : value).toPrecision(digits)));
// Only with another niche: an answer that comes while the next cost is typed must not take it away.
watch(
  () => props.niche,
  () => {
    typed.value = Object.fromEntries(
      LINES.filter((line) => props.paying?.given.includes(line.key)).map((line) => [
        line.key,
        text(line, props.paying?.costs[line.key] ?? 0),
      ]),
    );
  },
  { immediate: true },
);

function usual(line: Line): string {
  const value = props.paying?.costs[line.key];
  if (value === null || value === undefined) return line.from;
  const shown = MONEY.has(line.key) ? formatMoney(value, true) : text(line, value, 4);
  return `${shown}${line.share ? "%" : ""}, ${line.from}`;
}

async function keep(): Promise<void> {
  const costs: Record<string, number> = {};
  for (const line of LINES) {
    const entry = (typed.value[line.key] ?? "").trim();
    if (!entry) continue;
    const value = typedNumber(entry);
    if (value === undefined) {
      notify(`“${entry}” is no number for ${line.label}; write it like 12.50.`);
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
    notify(`Not kept: ${(error as ApiError).message}`, true);
  }
}
</script>

<template>
  <form class="costs" @submit.prevent="keep" @change="keep">
    <div v-for="line in LINES" :key="line.key" class="line">
      <span>{{ line.label }}{{ line.share ? ", %" : "" }}</span>
      <TextField
        v-model="typed[line.key]"
        inputmode="decimal"
        :label="line.label"
        :placeholder="usual(line)"
      />
    </div>
    <p class="small">
      An empty field takes what its grey text says. What is typed is kept for this niche.
    </p>
    <v-btn variant="plain" class="unseen" type="submit">Reckon</v-btn>
  </form>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  align-items: baseline;
  padding: 2px 0;
}

.line .v-input {
  font-weight: 600;
}

.line :deep(input::placeholder) {
  font-weight: 400;
}
</style>
