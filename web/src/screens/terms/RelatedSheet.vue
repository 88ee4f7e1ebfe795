<script setup lang="ts">
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import type { ApiError } from "@/api/client";
import { type RelatedTerm, termsQueries } from "@/api/terms";
import { formatCount } from "@/format/values";
import SideSheet from "@/ui/SideSheet.vue";

/** What else the buyers of a term look for, whatever they call it; each with why it is there and how strongly. */
const props = defineProps<{ market: string; term: string }>();
defineEmits<{ close: []; go: [term: string] }>();

const withWords = ref(false);
const related = useQuery(
  computed(() => ({
    ...termsQueries.related(props.market, props.term, withWords.value ? "with" : "without"),
    placeholderData: keepPreviousData,
  })),
);
const found = computed(() => related.data.value);

/** Rounded down: all is only what is wholly alike. */
const alike = (strength: number): string => `${Math.floor(strength * 100)}% alike`;
const shared = ({ shared: many, strength }: RelatedTerm): string => {
  const one = found.value?.by === "clicks" ? "listing" : "word";
  return `${formatCount(many)} ${many === 1 ? one : `${one}s`} in common · ${alike(strength)}`;
};
const lists = computed(() => [
  {
    key: "same-buyers",
    head: found.value?.by === "words" ? "The same words" : "The same buyers",
    rows: found.value?.terms ?? [],
    why: shared,
    none:
      found.value?.by === "words"
        ? "No other term is clearly like it in its words."
        : withWords.value
          ? "Its buyers click what those of no other term click."
          : "Its buyers click what those of no term with other words click.",
  },
  {
    key: "same-season",
    head: "The same season, in its category",
    rows: found.value?.season ?? [],
    why: ({ strength }: RelatedTerm): string => `year ${alike(strength)}`,
    none: "None of another niche, or it has no season.",
  },
]);
</script>

<template>
  <SideSheet
    class="related"
    :title="`Beside “${term}”`"
    label="Related terms"
    :width="300"
    @close="$emit('close')"
  >
    <p v-if="related.error.value" class="wrong">
      {{ (related.error.value as unknown as ApiError).message }}
    </p>
    <template v-else-if="found">
      <p v-if="found.by === 'words'" class="small">
        Its clicks are not known: terms are told to be related by their words alone.
      </p>
      <v-checkbox v-else v-model="withWords" label="also terms with its words" />
      <section v-for="{ key, head, rows, why, none } in lists" :key="key" :aria-label="head">
        <h3 class="small">
          <span v-explain="key">{{ head }}</span>
        </h3>
        <ul v-if="rows.length">
          <li v-for="one in rows" :key="one.term">
            <v-btn class="serif" @click="$emit('go', one.term)">{{ one.term }}</v-btn>
            <span class="number">{{ formatCount(one.searches_52w) }}</span>
            <span class="small bar" aria-hidden="true"
              ><span :style="{ width: `${one.strength * 100}%` }"
            /></span>
            <span class="small">{{ why(one) }}</span>
            <span v-if="one.niche_name !== one.term" class="small niche"
              >in {{ one.niche_name }}</span
            >
          </li>
        </ul>
        <p v-else class="small">{{ none }}</p>
      </section>
    </template>
  </SideSheet>
</template>

<style scoped>
h3 {
  margin: 10px 0 2px;
  padding-top: 6px;
  border-top: 1px solid var(--rule);
  font-weight: 400;
}

p {
  margin: 4px 0;
}

ul {
  margin: 4px 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: baseline;
  gap: 0 8px;
  margin-bottom: 7px;
}

li .v-btn {
  justify-content: flex-start;
  justify-self: start;
  max-width: 100%;
  text-align: left;
  white-space: normal;
  overflow-wrap: anywhere;
}

.bar {
  grid-column: 1 / -1;
  height: 3px;
  margin: 1px 0 2px;
  background: var(--q0);
}

.bar > span {
  display: block;
  height: 100%;
  background: var(--q4);
}

li > .small:not(.bar) {
  grid-column: 1 / -1;
  line-height: 1.25;
}

.wrong {
  color: var(--rust);
}
</style>
