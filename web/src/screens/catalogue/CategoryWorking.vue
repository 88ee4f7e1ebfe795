<script setup lang="ts">
import { computed } from "vue";
import { CATEGORIES, type FigureRow } from "@/api/client";
import type { Category } from "@/api/previews";
import WorkingSheet from "@/screens/parts/WorkingSheet.vue";

/** The working of a category: all its figures, and how each is worked out. */
const props = defineProps<{ category: Category; figures: FigureRow[] }>();
const open = defineModel<boolean>({ required: true });

const ofCategories = computed(() => props.figures.filter((one) => one.kinds.includes(CATEGORIES)));
/** No signals are raised of categories. */
const subject = computed(() => ({
  ...props.category,
  period: props.category.searches?.period ?? ("week" as const),
  signals: [],
}));
</script>

<template>
  <WorkingSheet v-model="open" :subject="subject" :figures="ofCategories" figure="" />
</template>
