<script setup lang="ts">
import { computed } from "vue";
import type { ApiError } from "@/api/client";
import { useMarket } from "@/state/useMarket";
import ScreenGate from "@/ui/ScreenGate.vue";
import NothingLoaded from "./NothingLoaded.vue";

/** A screen of a market: shown when there is one and what it asks for has come. */
const props = withDefaults(
  defineProps<{
    /** What is being waited for has not come; left out where that is not told. */
    pending?: boolean | undefined;
    failure?: Error | null | undefined;
    /** Why there is nothing to show, when that is so. */
    empty?: { title: string; text: string } | false | null | undefined;
  }>(),
  { pending: undefined, failure: undefined, empty: undefined },
);
const emit = defineEmits<{ retry: [] }>();

const { markets, nothing } = useMarket();
const failed = computed(() => (markets.error.value ?? props.failure ?? null) as ApiError | null);

function retry(): void {
  if (markets.error.value || nothing.value) void markets.refetch();
  emit("retry");
}
</script>

<template>
  <NothingLoaded v-if="nothing" @retry="retry" />
  <ScreenGate v-else :pending="pending" :failure="failed" :empty="empty || null" @retry="retry">
    <slot />
    <template #empty><slot name="empty" /></template>
  </ScreenGate>
</template>
