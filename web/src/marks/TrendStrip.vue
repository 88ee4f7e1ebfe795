<script setup lang="ts">
import { computed } from "vue";

/** A small curve without axes; from nothing to its own highest value. */
const props = defineProps<{ values: readonly (number | null)[]; label: string }>();

const WIDTH = 84;
const HEIGHT = 18;
const most = computed(() => Math.max(1, ...props.values.map((value) => value ?? 0)));
/** Unknown values break the line. */
const path = computed(() => {
  const step = WIDTH / Math.max(props.values.length - 1, 1);
  let pen = "M";
  return props.values
    .map((value, i) => {
      if (value === null) {
        pen = "M";
        return "";
      }
      const point = `${pen}${(i * step).toFixed(1)} ${(HEIGHT - 1 - (value / most.value) * (HEIGHT - 2)).toFixed(1)}`;
      pen = "L";
      return point;
    })
    .join("");
});
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="label">
    <path :d="path" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 84px;
  height: 18px;
}

path {
  fill: none;
  stroke: var(--q5);
  stroke-width: 1.2;
}
</style>
