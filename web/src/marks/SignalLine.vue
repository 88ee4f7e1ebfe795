<script setup lang="ts">
import type { NichePreview } from "@/api/client";
import SignalMark from "./SignalMark.vue";

defineProps<{ signals: NichePreview["signals"] }>();
</script>

<template>
  <p v-if="signals.length" class="signals">
    <template v-for="signal in signals" :key="signal.key">
      <span :data-tip="signal.evidence"><SignalMark :tone="signal.tone" />{{ signal.name }}</span>
      {{ " " }}
    </template>
  </p>
</template>

<style scoped>
.signals {
  margin: 0 0 5px;
  font: 11.5px/1.4 var(--condensed);
}

span {
  margin-right: 8px;
  white-space: nowrap;
}
</style>
