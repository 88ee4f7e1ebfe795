<script setup lang="ts">
import { computed, onMounted, ref, watch } from "vue";
import { useTokens } from "@/charts/useTokens";
import { stepDay } from "@/format/values";

/** Groups of subjects one below the other, their periods from left to right: how many are known. */
const props = defineProps<{
  bands: number[][];
  first: string;
  period: "week" | "month";
  label: string;
}>();

const HIGH = 5; // Pixels of a band.
const canvas = ref<HTMLCanvasElement | null>(null);
const tokens = useTokens();
const width = computed(() => props.bands[0]?.length ?? 0);

/** Nothing known has the colour of the ground; the rest goes in five steps. */
function colourOf(share: number): string {
  const { page, q1, q2, q3, q4, q5 } = tokens.value;
  if (share === 0) return page;
  return [q1, q2, q3, q4, q5][Math.min(4, Math.floor(share * 5))] ?? q5;
}

function draw(): void {
  const paper = canvas.value?.getContext("2d");
  if (!paper) return;
  props.bands.forEach((band, y) =>
    band.forEach((share, x) => {
      paper.fillStyle = colourOf(share);
      paper.fillRect(x, y, 1, 1);
    }),
  );
}
onMounted(draw);
watch([() => props.bands, tokens], draw, { flush: "post" });

/** Where the years begin, as shares of the width. */
const years = computed(() => {
  const found: { year: string; at: number }[] = [];
  for (let i = 0; i < width.value; i += 1) {
    const year = stepDay(props.first, i, props.period).slice(0, 4);
    if (found.at(-1)?.year !== year) found.push({ year, at: i / width.value });
  }
  return found;
});
</script>

<template>
  <div class="bands">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="label"
      :width="width"
      :height="bands.length"
      :style="{ height: `${Math.max(bands.length * HIGH, 14)}px` }"
    />
    <div class="years small" aria-hidden="true">
      <span v-for="one in years" :key="one.year" :style="{ left: `${one.at * 100}%` }">{{
        one.year
      }}</span>
    </div>
  </div>
</template>

<style scoped>
canvas {
  display: block;
  width: 100%;
  border: 1px solid var(--rule);
  box-sizing: border-box;
  image-rendering: pixelated;
}

.years {
  position: relative;
  height: 15px;
  overflow: hidden;
}

.years span {
  position: absolute;
  padding-left: 3px;
  border-left: 1px solid var(--ink3);
}
</style>
