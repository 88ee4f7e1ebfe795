<script setup lang="ts">
import { computed } from "vue";
import type { Category } from "@/api/previews";
import CurveChart from "@/charts/CurveChart.vue";
import type { CurvePreview } from "@/charts/curvePreview";
import YearsChart from "@/charts/YearsChart.vue";
import WindowTable from "./WindowTable.vue";

/** How big a category is and when it comes: sentences, its curve, years over one another, the windows. */
const props = defineProps<{ category: Category }>();
const figures = computed(() => props.category.figures);
/** The curve of searches as the charts of a row take it. */
const curve = computed<CurvePreview | undefined>(() => {
  const { searches } = props.category;
  const { level_shifts, basis } = figures.value;
  const { name, years } = props.category;
  return searches ? { name, years, ...searches, figures: { level_shifts, basis } } : undefined;
});
</script>

<template>
  <section aria-label="How big, and when">
    <h3>How big, and when</h3>
    <p v-for="one in category.size" :key="one" class="serif">{{ one }}</p>
    <p class="serif">{{ category.calendar }}</p>
    <div v-if="curve" class="curves">
      <CurveChart :subject="curve" kept class="chart" />
      <YearsChart :subject="curve" kept class="chart" />
    </div>
    <WindowTable v-if="category.windows.length" :windows="category.windows" />
    <slot />
  </section>
</template>

<style scoped>
.curves {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(300px, 100%), 1fr));
  gap: 4px 20px;
}

.chart {
  height: 170px;
}
</style>
