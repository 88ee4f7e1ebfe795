<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import type { MarketSummary } from "@/api/client";
import { catalogueQueries } from "@/api/catalogue";
import type { Category } from "@/api/previews";
import { registryQueries } from "@/api/registry";
import { formatCount } from "@/format/values";
import { rangeText } from "@/screens/parts/sieve/rangeText";
import RangeRow from "./RangeRow.vue";

/** The range of each figure over the category's niches, from which a range becomes a condition on the Field. */
const props = defineProps<{ category: Category; market: MarketSummary }>();
const emit = defineEmits<{ condition: [text: string]; field: [] }>();

const found = useQuery(
  computed(() => catalogueQueries.ranges(props.market.market_id, props.category.id)),
);
const registry = useQuery(registryQueries.figures());
const rows = computed(() =>
  (found.data.value?.ranges ?? []).flatMap((range) => {
    const figure = registry.data.value?.find((one) => one.key === range.figure);
    return figure ? [{ range, figure }] : [];
  }),
);
const niches = computed(() => found.data.value?.niches ?? 0);
</script>

<template>
  <section aria-label="The range of its niches">
    <h3><span v-explain="'range-of-niches'">The range of its niches</span></h3>
    <p v-if="found.data.value && !niches" class="serif">No niche lies in it.</p>
    <p v-else-if="niches" class="small">
      lowest, quartiles and highest of {{ formatCount(niches) }}
      {{ niches === 1 ? "niche" : "niches" }}; drag across the bars for a condition on the Field
    </p>
    <div v-if="niches" class="scroll">
      <table>
        <tbody>
          <RangeRow
            v-for="{ range, figure } in rows"
            :key="range.figure"
            :range="range"
            :figure="figure"
            @range="(low, high) => emit('condition', rangeText(figure, low, high))"
          />
        </tbody>
      </table>
    </div>
    <p v-if="niches"><v-btn @click="emit('field')">Its niches on the Field</v-btn></p>
  </section>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}

table {
  border-collapse: collapse;
}
</style>
