<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import type { FittedLens } from "@/api/proof";
import { registryQueries } from "@/api/registry";
import { BALANCE, readLens, type Weights } from "@/screens/parts/lens/useLens";

/** What weights fitted to launches come to, and those that are proposed beside the default's. */
const props = defineProps<{ lens: FittedLens; outdated: boolean }>();
const emit = defineEmits<{ take: [weights: Weights] }>();

const asked = useQuery(registryQueries.parts("niches", undefined));
const figures = useQuery(registryQueries.figures());
const parts = computed(() => asked.data.value ?? []);
const usual = computed(() => readLens("", parts.value));
const label = (key: string): string =>
  figures.data.value?.find((one) => one.key === key)?.label ?? key;
const SIDES = [
  { side: "demand", name: "Demand" },
  { side: "competition", name: "Competition" },
];
/** Weights of a side as shares of it. */
function shares(weights: Weights, side: string): Record<string, number> {
  const own = parts.value.filter((one) => one.side === side);
  const whole = own.reduce((sum, one) => sum + (weights[one.key] ?? 0), 0);
  return Object.fromEntries(
    own.map((one) => [one.key, whole ? (weights[one.key] ?? 0) / whole : 0]),
  );
}
const rows = computed(() =>
  SIDES.flatMap(({ side, name }) => {
    const now = shares(props.lens.weights ?? {}, side);
    const before = shares(usual.value, side);
    return parts.value
      .filter((one) => one.side === side && ((now[one.key] ?? 0) > 0 || (before[one.key] ?? 0) > 0))
      .map((one, i) => ({
        key: one.key,
        side: i ? "" : name,
        name: label(one.figure),
        now: now[one.key] ?? 0,
        before: before[one.key] ?? 0,
      }));
  }),
);
const percent = (value: number): string => `${Math.round(value * 100)}%`;
</script>

<template>
  <div>
    <p>{{ lens.sentence }}</p>
    <template v-if="lens.weights">
      <div class="scroll" tabindex="0" role="region" aria-label="Weights proposed">
        <table class="facts">
          <thead>
            <tr>
              <th v-explain="'headroom'" scope="col" class="name">side</th>
              <th v-explain="'lens'" scope="col" class="name part">part</th>
              <th v-explain="'weights-proposed'" scope="col">proposed</th>
              <th v-explain="'lens'" scope="col">default</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.key" :class="{ first: row.side }">
              <th scope="row" class="name">
                {{ row.side }}
                <span v-if="row.side" class="unseen">, </span>
              </th>
              <td class="name part">{{ row.name }}</td>
              <td :class="{ more: row.now > row.before + 0.05 }">{{ percent(row.now) }}</td>
              <td>{{ percent(row.before) }}</td>
            </tr>
            <tr class="first">
              <th scope="row" class="name">Between</th>
              <td class="name part">demand’s share of headroom</td>
              <td>{{ percent(lens.weights[BALANCE] ?? 0.5) }}</td>
              <td>{{ percent(usual[BALANCE] ?? 0.5) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p>
        <v-btn :disabled="outdated" @click="emit('take', lens.weights)"
          >Keep as a lens and rank by it</v-btn
        >
        <span class="small">
          It ranks the Field until another is chosen, and can be removed in the sheet Lens.</span
        >
      </p>
    </template>
  </div>
</template>

<style scoped src="./record.css" />
<style scoped>
p {
  margin: 4px 0;
}

.facts .part {
  padding-left: 18px;
}

.more {
  font-weight: 600;
}

p .small {
  margin-left: 12px;
  color: var(--ink3);
}
</style>
