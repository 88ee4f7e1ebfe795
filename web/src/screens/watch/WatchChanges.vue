<script setup lang="ts">
import { computed } from "vue";
import type { RouteLocationRaw } from "vue-router";
import type { WatchChange } from "@/api/watch";
import { formatDay } from "@/format/values";
import { KINDS } from "@/state/useKind";

/** Changes under what they are called, by consequence. */
const props = defineProps<{
  changes: WatchChange[];
  /** As-of of the latest figures: what earlier ones told says so. */
  asOf: string;
  linkOf: (change: WatchChange) => RouteLocationRaw;
}>();
defineEmits<{ seen: [ids: number[], seen: boolean]; history: [change: WatchChange] }>();

const groups = computed(() => {
  const found = new Map<string, WatchChange[]>();
  for (const one of props.changes) found.set(one.label, [...(found.get(one.label) ?? []), one]);
  return [...found].map(([label, changes]) => ({
    label,
    changes,
    unseen: changes.filter((one) => one.id !== null && !one.seen_at).map((one) => one.id as number),
  }));
});
const keyOf = (one: WatchChange): string => `${one.key} ${one.told_as_of}`;
</script>

<template>
  <section v-for="{ label, changes: rows, unseen } in groups" :key="label" class="group">
    <h3>
      {{ label }} <span class="small">{{ rows.length }}</span>
      <v-btn v-if="unseen.length > 1" class="all" @click="$emit('seen', unseen, true)"
        >All seen</v-btn
      >
    </h3>
    <ul>
      <li v-for="one in rows" :key="keyOf(one)" :class="{ was: one.seen_at }">
        <RouterLink class="serif name" :to="linkOf(one)">{{ one.name }}</RouterLink>
        <p>
          {{ one.sentence }}
          <span v-if="one.of !== 'niches'" class="small">{{ KINDS[one.of].one }}</span>
          <span v-if="one.told_as_of !== asOf" class="small"
            >as of {{ formatDay(one.told_as_of) }}</span
          >
        </p>
        <span class="acts">
          <v-btn :aria-label="`History of ${one.name}`" @click="$emit('history', one)"
            >History</v-btn
          >
          <v-btn
            v-if="one.id !== null"
            :aria-label="`${one.seen_at ? 'Not seen' : 'Seen'}: ${one.name}, ${label}`"
            @click="$emit('seen', [one.id], !one.seen_at)"
            >{{ one.seen_at ? "Not seen" : "Seen" }}</v-btn
          >
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
h3 {
  display: flex;
  gap: 8px;
  align-items: baseline;
  margin: 10px 0 0;
  font-size: 13px;
  font-weight: 600;
  color: var(--ink2);
}

.all {
  margin-left: auto;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: minmax(120px, 210px) minmax(0, 1fr) auto;
  gap: 2px 18px;
  align-items: baseline;
  padding: 4px 0;
  border-top: 1px solid var(--rule);
}

.was {
  color: var(--ink3);
}

.name {
  font-size: 15px;
  line-height: 1.3;
  color: inherit;
  text-decoration: none;
  overflow-wrap: anywhere;
}

.name:hover {
  text-decoration: underline;
}

p {
  margin: 0;
  line-height: 1.35;
}

p .small {
  margin-left: 6px;
  white-space: nowrap;
  color: var(--ink3);
}

.acts {
  display: flex;
  gap: 8px;
}

@media (max-width: 760px) {
  li {
    grid-template-columns: minmax(0, 1fr) auto;
  }

  li p {
    grid-column: 1 / -1;
    order: 3;
  }
}

@media print {
  .acts,
  .all {
    display: none;
  }
}
</style>
