<script setup lang="ts">
import type { RouteLocationRaw } from "vue-router";
import type { WatchSieve } from "@/api/watch";
import { formatDay } from "@/format/values";

/** What newly passes each named sieve, what no longer does, and the conditions that decided. */
defineProps<{
  sieves: WatchSieve[];
  asOf: string;
  linkOf: (of: WatchSieve["of"], id: string) => RouteLocationRaw;
}>();
defineEmits<{ seen: [ids: number[], seen: boolean] }>();

const SHOWN = 12;
const SIDES = [
  { side: "came", count: "came_count", title: "newly" },
  { side: "went", count: "went_count", title: "no longer" },
] as const;
</script>

<template>
  <section v-for="one in sieves" :key="`${one.name} ${one.told_as_of}`" class="sieve">
    <h3>
      <span class="serif">{{ one.name }}</span>
      <span class="small">{{ one.sentence }}</span>
      <span v-if="one.told_as_of !== asOf" class="small"
        >as of {{ formatDay(one.told_as_of) }}</span
      >
      <v-btn
        v-if="one.id !== null"
        class="all"
        :aria-label="`${one.seen_at ? 'Not seen' : 'Seen'}: ${one.name}`"
        @click="$emit('seen', [one.id], !one.seen_at)"
        >{{ one.seen_at ? "Not seen" : "Seen" }}</v-btn
      >
    </h3>
    <div class="sides">
      <div v-for="{ side, count, title } in SIDES" v-show="one[count]" :key="side">
        <h4 class="small">{{ title }} pass: {{ one[count] }}</h4>
        <ul>
          <li v-for="row in one[side].slice(0, SHOWN)" :key="row.id">
            <RouterLink class="serif" :to="linkOf(one.of, row.id)">{{ row.name }}</RouterLink>
            <span class="small">{{ row.new ? "new in the figures" : row.why.join("; ") }}</span>
          </li>
        </ul>
        <p v-if="one[count] > SHOWN" class="small">
          and {{ one[count] - SHOWN }} more; all are in the exported list
        </p>
      </div>
    </div>
  </section>
</template>

<style scoped>
h3 {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
  margin: 8px 0 0;
  padding-top: 6px;
  border-top: 1px solid var(--rule);
  font-size: 15px;
  font-weight: 400;
}

.all {
  margin-left: auto;
}

.sides {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 360px), 1fr));
  gap: 4px 34px;
}

h4 {
  margin: 4px 0 2px;
  font-weight: 600;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  align-items: baseline;
  padding: 1px 0;
  line-height: 1.35;
}

li a {
  color: inherit;
  text-decoration: none;
}

li a:hover {
  text-decoration: underline;
}

li .small,
p {
  margin: 0;
  color: var(--ink3);
}

@media print {
  .all {
    display: none;
  }
}
</style>
