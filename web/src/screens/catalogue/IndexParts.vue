<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { useRoute } from "vue-router";
import type { Category } from "@/api/previews";
import { registryQueries } from "@/api/registry";
import { formatFigure } from "@/format/figure";
import { formatChange, UNKNOWN } from "@/format/values";

/** What openness and settledness are made of: each part's figure, and how far it lifts or lowers the index. */
const props = defineProps<{ category: Category }>();
const route = useRoute();
const registry = useQuery(registryQueries.figures());

/** The figures the parts read, by index and part, as core/ranking/index.py has them. */
const PARTS = {
  openness: {
    success: "entry.success_low",
    newcomers: "newcomers.units_share_52w",
    spread: "competition_parts.top5_share",
    reviews: "review_barrier",
  },
  settledness: {
    established: "established.units_share",
    age: "established.sold_age_days",
    reviews: "review_barrier",
  },
};
const rows = computed(() => {
  const figures = props.category.figures as unknown as Record<string, unknown>;
  return Object.entries(PARTS).flatMap(([index, parts]) =>
    Object.entries(parts).flatMap(([part, key]) => {
      const figure = registry.data.value?.find((one) => one.key === key);
      if (!figure) return [];
      const log = figures[`${index}_parts_${part}`];
      return [
        {
          index,
          key,
          label: figure.label,
          value: `${formatFigure(figure, figures[key.replaceAll(".", "_")])}${figure.unit === "days" ? " days" : ""}`,
          does: typeof log === "number" ? formatChange(Math.exp(log) - 1) : UNKNOWN,
        },
      ];
    }),
  );
});
</script>

<template>
  <details>
    <summary class="small">What they are made of</summary>
    <p class="small">
      Each part as a percentile among the market’s categories lifts or lowers the index from 50; the
      parts multiply. Their weights are
      <RouterLink
        :to="{
          path: '/settings',
          query: { ...route.query, category: undefined, open: undefined, find: 'open' },
        }"
        >settings</RouterLink
      >.
    </p>
    <v-table>
      <thead>
        <tr>
          <th scope="col">index</th>
          <th scope="col">part</th>
          <th scope="col" class="number">figure</th>
          <th scope="col" class="number">does</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="`${row.index} ${row.key}`">
          <td>{{ row.index }}</td>
          <th v-explain:figure="row.key" scope="row">{{ row.label }}</th>
          <td class="number">{{ row.value }}</td>
          <td class="number">{{ row.does }}</td>
        </tr>
      </tbody>
    </v-table>
  </details>
</template>

<style scoped>
details {
  max-width: 620px;
}

a {
  color: var(--q5);
}

summary {
  min-height: 24px;
  cursor: pointer;
}
</style>
