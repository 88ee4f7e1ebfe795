<script setup lang="ts">
import { useRoute } from "vue-router";
import { KINDS } from "@/state/useKind";
import { useMarket } from "@/state/useMarket";

/** The screens about those who sell already. */
const route = useRoute();
const { market } = useMarket();
const SCREENS = [
  ...[KINDS.listings, KINDS.brands, KINDS.sellers].map(({ home, many }) => ({
    path: home,
    name: many,
  })),
  { path: "/rivals/together", name: "together" },
  { path: "/rivals/own", name: "my own" },
];
</script>

<template>
  <nav aria-label="Who sells">
    <RouterLink
      v-for="one in SCREENS"
      :key="one.path"
      :to="{ path: one.path, query: { market: market?.market_id } }"
      :aria-current="one.path === route.path ? 'page' : undefined"
      >{{ one.name }}</RouterLink
    >
    <RouterLink :to="{ path: '/lists', query: { market: market?.market_id, of: 'listings' } }"
      >lists</RouterLink
    >
  </nav>
</template>

<style scoped>
nav {
  display: flex;
  gap: 14px;
}

a {
  color: var(--ink2);
  text-decoration: none;
  line-height: 24px;
}

a[aria-current] {
  color: var(--ink);
  font-weight: 600;
  border-bottom: 2px solid var(--ochre);
}
</style>
