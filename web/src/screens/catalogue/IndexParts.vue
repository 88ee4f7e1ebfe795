<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { useRoute } from "vue-router";
import type { Category } from "@/api/previews";
import { registryQueries } from "@/api/registry";
import { formatFigure } from "@/format/figure";
import { formatChange } from "@/format/values";

/** What openness and settledness are made of: each part's figure, and how far it lifts or lowers the index. */
const props = defineProps<{ category: Category }>();
const route = useRoute();
const registry = useQuery(registryQueries.figures());

const rows = computed(() => {
  const values = props.category.figures as unknown as Record<string, unknown>;
  return props.category.parts.flatMap(({ index, figure: key, lifts }) => {
    const figure = registry.data.value?.find((one) => one.key === key);
    if (!figure) return [];
    const days = figure.unit === "days" ? " days" : "";
    const value = `${formatFigure(figure, values[figure.column])}${days}`;
    return [{ index, key, label: figure.label, value, does: formatChange(lifts) }];
  });
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
          query: { ...route.query, category: undefined, open: undefined, find: 'categories' },
        }"
        >settings</RouterLink
      >, unless another lens (<kbd>l</kbd>) weighs them.
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
