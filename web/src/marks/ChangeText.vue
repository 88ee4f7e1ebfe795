<script setup lang="ts">
import { computed } from "vue";
import { formatChange, formatInterval } from "@/format/values";

/** A change with its interval; marked where all of the interval lies on one side. */
const props = defineProps<{
  value: number | null;
  low?: number | null;
  high?: number | null;
  marked?: boolean;
}>();
const side = computed(() => {
  if (!props.marked || props.low == null || props.high == null) return "";
  return props.low > 0 ? "up" : props.high < 0 ? "down" : "";
});
</script>

<template>
  <span class="change" :class="side">
    <span v-if="side" aria-hidden="true">{{ side === "up" ? "▲" : "▼" }}</span>
    {{ formatChange(value) }}
    <span v-if="low != null || high != null" class="small">({{ formatInterval(low, high) }})</span>
  </span>
</template>

<style scoped>
.change {
  white-space: nowrap;
}

.up {
  color: var(--q5);
}

.down {
  color: var(--rust);
}

.small {
  color: var(--ink3);
}
</style>
