<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { ledgerQueries } from "@/api/ledger";
import { formatBound } from "@/format/values";
import { useKind } from "@/state/useKind";
import { useDraggedRange } from "./useDraggedRange";

/** The spread of a figure over what passes the other conditions; dragging across it sets a range. */
const props = defineProps<{
  market: string | undefined;
  figure: string;
  type: string;
  others: string[];
  low: number | null;
  high: number | null;
}>();
const emit = defineEmits<{ range: [low: number | null, high: number | null] }>();
const kind = useKind();

const WIDTH = 260;
const HEIGHT = 56;
const spread = useQuery(
  computed(() =>
    ledgerQueries.distribution({
      of: kind.of,
      ...(props.market ? { market: props.market } : {}),
      figure: props.figure,
      c: props.others,
    }),
  ),
);
const { held, begin, move, end } = useDraggedRange(
  () => spread.data.value,
  (low, high) => emit("range", low, high),
);

const bars = computed(() => {
  const { edges = [], counts = [] } = spread.data.value ?? {};
  const most = Math.max(1, ...counts);
  const step = WIDTH / Math.max(1, counts.length);
  return counts.map((count, i) => {
    const [a, b] = [edges[i] ?? 0, edges[i + 1] ?? 0];
    const height = count ? Math.max(2, (count / most) * HEIGHT) : 0;
    const inside = held(i) ?? (b > (props.low ?? -Infinity) && a < (props.high ?? Infinity));
    const tip = `${formatBound(a, props.type)} to ${formatBound(b, props.type)}: ${count}`;
    return { x: i * step, y: HEIGHT - height, width: Math.max(1, step - 1), height, inside, tip };
  });
}); // prettier-ignore
const ends = computed(() => {
  const edges = spread.data.value?.edges ?? [];
  return [edges[0], edges.at(-1)].map((edge) =>
    edge === undefined ? "" : formatBound(edge, props.type),
  );
});
</script>

<template>
  <figure v-if="bars.length" class="spread">
    <svg
      :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
      :width="WIDTH"
      :height="HEIGHT"
      role="img"
      :aria-label="`How the figure is spread over the ${kind.many} that pass the other conditions`"
      @pointerdown="begin"
      @pointermove="move"
      @pointerup="end"
    >
      <rect :width="WIDTH" :height="HEIGHT" class="ground" />
      <rect
        v-for="bar in bars"
        :key="bar.x"
        :x="bar.x"
        :y="bar.y"
        :width="bar.width"
        :height="bar.height"
        :class="{ inside: bar.inside }"
      >
        <title>{{ bar.tip }}</title>
      </rect>
      <path :d="`M0 ${HEIGHT - 0.5}H${WIDTH}`" />
    </svg>
    <figcaption class="small">
      <span>{{ ends[0] }}</span><span>drag across the bars to set a range</span
      ><span>{{ ends[1] }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
.spread {
  margin: 8px 0 0;
  touch-action: none;
}

svg {
  display: block;
  cursor: ew-resize;
}

.ground {
  fill: transparent;
}

rect {
  fill: var(--q2);
}

rect.inside {
  fill: var(--q4);
}

path {
  stroke: var(--ink3);
}

figcaption {
  display: flex;
  justify-content: space-between;
}
</style>
