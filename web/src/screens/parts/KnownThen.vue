<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, defineAsyncComponent, ref, watch } from "vue";
import { registryQueries } from "@/api/registry";
import type { Kind } from "@/api/client";
import { watchQueries } from "@/api/watch";
import { formatFigure } from "@/format/figure";
import { formatDay } from "@/format/values";
import SelectField from "@/ui/SelectField.vue";

/** What was known of a subject after each import: one figure, drawn and told. */
const LooksChart = defineAsyncComponent(() => import("@/charts/LooksChart.vue"));
const props = defineProps<{
  market: string;
  of: Kind;
  subject: string;
  /** Key of the figure that is shown first. */
  first: string;
}>();

const figure = ref("");
watch(
  () => [props.of, props.subject, props.first],
  () => (figure.value = props.first),
  { immediate: true },
);

const figures = useQuery(registryQueries.figures());
const asked = useQuery(
  computed(() => watchQueries.history(props.market, props.of, props.subject, figure.value)),
); // prettier-ignore
const history = computed(() => asked.data.value);
const row = computed(() => figures.data.value?.find((one) => one.key === figure.value));
const told = (value: unknown): string =>
  row.value ? formatFigure(row.value, value) : String(value ?? "–");
const rows = computed(() =>
  (history.value?.rows ?? []).map((one) => ({ ...one, value: one.figures[figure.value] })),
);
const choices = computed(() =>
  (history.value?.kept ?? []).map((one) => ({ title: one.label, value: one.key })),
);
const points = computed(() =>
  rows.value.map((one): [string, number | null] => [
    one.look.as_of,
    typeof one.value === "number" ? one.value : null,
  ]),
);
const drawn = computed(() => points.value.filter(([, value]) => value !== null).length > 1);
</script>

<template>
  <div>
    <p class="small">What was known after each import</p>
    <SelectField v-if="choices.length" v-model="figure" label="Figure" :items="choices" />
    <p v-if="asked.error.value" class="problem" role="alert">{{ asked.error.value.message }}</p>
    <LooksChart
      v-if="drawn && row"
      class="chart"
      :points="points"
      :label="row.label"
      :told="told"
      :down="figure === 'rank'"
    />
    <table v-if="rows.length" class="looks">
      <thead>
        <tr>
          <th scope="col">figures up to</th>
          <th scope="col">{{ row?.label }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in [...rows].reverse()" :key="one.look.id">
          <th scope="row">{{ formatDay(one.look.as_of) }}</th>
          <td>{{ told(one.value) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="history" class="small">Nothing was kept of it yet.</p>
  </div>
</template>

<style scoped>
p {
  margin: 4px 0;
}

.chart {
  height: 190px;
  margin: 8px 0;
}

.problem {
  color: var(--rust);
}

.looks {
  width: 100%;
  border-collapse: collapse;
}

.looks th,
.looks td {
  padding: 3px 0;
  border-bottom: 1px solid var(--rule);
  font-weight: 400;
  text-align: left;
}

.looks td,
.looks thead th:last-child {
  text-align: right;
}
</style>
