<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { nicheQueries } from "@/api/niche";

/** Sentences of buyers that were pinned to a niche’s note, as they were written then. */
const props = defineProps<{ market: string; niche: string }>();

const voices = useQuery(computed(() => nicheQueries.voices(props.market, props.niche)));
const pins = computed(() => voices.data.value?.pins ?? []);
</script>

<template>
  <ul v-if="pins.length" class="pins" aria-label="Pinned sentences">
    <li v-for="one in pins" :key="one.key">
      <q class="serif">{{ one.said }}</q>
      <span v-if="one.theme" class="small"> {{ one.theme }}</span>
    </li>
  </ul>
</template>

<style scoped>
.pins {
  list-style: none;
  margin: 4px 0 8px;
  padding: 0 0 0 8px;
  border-left: 2px solid var(--ochre);
}

li {
  padding: 2px 0;
  overflow-wrap: anywhere;
}
</style>
