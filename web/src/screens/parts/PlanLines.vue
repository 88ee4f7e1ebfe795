<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { toldPlans } from "@/api/plans";

/** The plans that are kept of a niche, each with what it says now. */
const props = defineProps<{ market: string; niche: string }>();
const told = useQuery(computed(() => toldPlans(props.market, props.niche)));
const plans = computed(() => told.data.value?.plans ?? []);
const to = (plan: string) => ({
  path: "/plan",
  query: { market: props.market, niche: props.niche, plan },
});
</script>

<template>
  <ul v-if="plans.length" class="plans" aria-label="Plans of orders">
    <li v-for="one in plans" :key="one.key">
      <RouterLink :to="to(one.key)">{{ one.name }}</RouterLink><template
        v-if="one.state === 'ordered'"
      >
        (ordered)</template
      >: {{ one.sentence }}
      <span v-for="warning in one.warnings" :key="warning" class="warning">{{ warning }}</span>
    </li>
  </ul>
</template>

<style scoped>
.plans {
  max-width: 860px;
  margin: 4px 0 8px;
  padding-left: 18px;
}

li {
  padding: 2px 0;
  overflow-wrap: anywhere;
}

.warning {
  display: block;
  color: var(--ochre-text);
}
</style>
