<script setup lang="ts">
import { useMediaQuery } from "@vueuse/core";

/** A sheet at the right of what it belongs to, with a heading and a way to close it. */
defineProps<{ title: string; label: string; width: number }>();
defineEmits<{ close: [] }>();

const NARROW = 260;
const narrow = useMediaQuery("(max-width: 620px)");
</script>

<template>
  <v-navigation-drawer
    tag="aside"
    class="side"
    :aria-label="label"
    location="right"
    :model-value="true"
    :permanent="!narrow"
    :temporary="narrow"
    :scrim="false"
    :width="narrow ? NARROW : width"
    @update:model-value="(open: boolean) => !open && $emit('close')"
  >
    <header>
      <h2 class="serif">{{ title }}</h2>
      <v-btn @click="$emit('close')">Close</v-btn>
    </header>
    <slot />
  </v-navigation-drawer>
</template>

<style scoped>
.side :deep(.v-navigation-drawer__content) {
  padding: 10px 16px 14px;
  scrollbar-width: thin;
}

header {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 10px;
}

h2 {
  margin: 0;
  font-size: 17px;
  line-height: 1.2;
  overflow-wrap: anywhere;
}
</style>
