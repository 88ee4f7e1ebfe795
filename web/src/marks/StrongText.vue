<script setup lang="ts">
import { computed } from "vue";

/** A sentence whose figures stand out, as the eye looks for them. */
const props = defineProps<{ text: string }>();

const parts = computed(() =>
  props.text
    .split(
      /([+−±×÷]?[£€$¥₹]?\d(?:[\d.,]*\d)?(?:%|-fold)?(?: (?:Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)\w*(?: \d{4})?)?)/,
    )
    .map((text, i) => ({ text, strong: i % 2 === 1 })),
);
</script>

<template>
  <template v-for="(part, i) in parts" :key="i"
    ><b v-if="part.strong">{{ part.text }}</b
    ><template v-else>{{ part.text }}</template></template
  >
</template>

<style scoped>
b {
  color: var(--ink);
  font-weight: 600;
}
</style>
