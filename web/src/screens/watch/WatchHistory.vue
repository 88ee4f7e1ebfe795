<script setup lang="ts">
import { computed } from "vue";
import type { WatchChange } from "@/api/watch";
import KnownThen from "@/screens/parts/KnownThen.vue";
import SideSheet from "@/ui/SideSheet.vue";

/** What was known after each import of what changed. */
const props = defineProps<{ market: string; change: WatchChange }>();
defineEmits<{ close: [] }>();

/** The figure that says most of each kind of change. */
const FIRST: Partial<Record<WatchChange["aspect"], string>> = {
  demand: "moved.demand",
  level_shift: "step_size",
  prices: "moved.price",
  price_slide: "moved.slide",
  offers: "moved.offers",
  brand_over_half: "moved.brand_share",
  drift: "drift_rate_year",
  leader_stock: "moved.leader_stock",
  complaint: "voices.complaint_share",
  launch: "entry.launches_26w",
  missing: "coverage",
  own_share: "own.share",
  season: "moved.season",
};
const first = computed(
  () => FIRST[props.change.aspect] ?? (props.change.of === "niches" ? "rank" : "drift_rate_year"),
);
</script>

<template>
  <SideSheet
    :title="change.name"
    :label="`What was known of ${change.name}`"
    :width="380"
    @close="$emit('close')"
  >
    <KnownThen :market="market" :of="change.of" :subject="change.subject" :first="first" />
  </SideSheet>
</template>
