<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { SHAPE_PATHS } from "./shapePaths";

defineProps<{ shape: Schemas["Shape"] }>();
</script>

<template>
  <svg class="mark" viewBox="0 0 18 13" aria-hidden="true"><path :d="SHAPE_PATHS[shape]" /></svg>
</template>

<style scoped>
.mark {
  width: 18px;
  height: 13px;
  flex: none;
}

path {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.6;
  stroke-linejoin: round;
}
</style>
