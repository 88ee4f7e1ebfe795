<script setup lang="ts">
import MarketGate from "@/screens/parts/MarketGate.vue";
import RivalsNav from "./RivalsNav.vue";

/** What the screens about several of those who sell have in common: the ways between them, a title, and a table. */
defineProps<{ label: string; title: string; explained?: string }>();
</script>

<template>
  <MarketGate>
    <article class="page" :aria-label="label">
      <RivalsNav />
      <h1 v-explain="explained" class="serif">{{ title }}</h1>
      <slot />
    </article>
  </MarketGate>
</template>

<style scoped>
.page {
  padding: 14px var(--gutter) 40px;
}

.page :deep(a:not(nav a)) {
  color: var(--q5);
}

h1 {
  margin: 10px 0 8px;
  font-size: 24px;
  line-height: 1.2;
}

.page :deep(.choose) {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 22px;
  align-items: baseline;
  margin: 10px 0;
}

.page :deep(.choose input[type="number"]) {
  width: 44px;
  font: inherit;
  color: inherit;
  text-align: right;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--rule);
}

.page :deep(.scroller) {
  overflow-x: auto;
}

.page :deep(.scroller td),
.page :deep(.scroller th[scope="row"]) {
  vertical-align: baseline;
}

.page :deep(.scroller td) {
  white-space: nowrap;
}

.page :deep(.title) {
  font-weight: 400;
  text-align: left;
}
</style>
