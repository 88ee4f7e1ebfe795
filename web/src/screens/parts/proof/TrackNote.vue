<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { proofQueries, type Replayed, type TrackLine } from "@/api/proof";

/** What the market's own past says of such a forecast, date or rank; nothing where it was not replayed, or tells too
 *  little. Of a shape where it is known of it, else of all. */
const props = defineProps<{
  market: string;
  part: TrackLine["part"];
  of?: Replayed;
  shape?: string | null;
  weeks?: number;
}>();

const asked = useQuery(
  computed(() => ({
    ...proofQueries.lines(props.market, props.of ?? "niches"),
    enabled: Boolean(props.market),
  })),
);
const said = computed(() => {
  const lines = (asked.data.value?.lines ?? []).filter(
    (one) => one.part === props.part && (props.weeks === undefined || one.weeks === props.weeks),
  );
  return (
    lines.find((one) => props.shape && one.group === props.shape) ??
    lines.find((one) => one.group === "") ??
    (props.part === "launch" ? lines[0] : undefined)
  );
});
</script>

<template>
  <p v-if="said" class="note small">
    <RouterLink :to="{ path: '/track-record', query: { market, of } }"
      >In this market’s past</RouterLink
    >:
    {{ said.sentence }}
  </p>
</template>

<style scoped>
.note {
  margin: 2px 0 8px;
  color: var(--ink3);
}

.note a {
  color: inherit;
}
</style>
