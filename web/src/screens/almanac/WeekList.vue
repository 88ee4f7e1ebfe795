<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { type AlmanacQuery, almanacQueries, type Happening } from "@/api/almanac";
import { pastMark } from "@/format/seasons";
import { addDays, formatCount, formatDay, formatShortDay } from "@/format/values";
import ScreenGate from "@/ui/ScreenGate.vue";
import type { ApiError } from "@/api/client";

/** What is to be done and happens, week by week. */
const props = defineProps<{
  ask: AlmanacQuery;
  pageOf: (row: { id: string }) => { path: string; query: Record<string, string> };
}>();

const weeks = useQuery(computed(() => almanacQueries.weeks(props.ask)));
const failed = computed(() => weeks.error.value as ApiError | null);
const orders = ref(false);
/** Weeks that are shown at first. */
const SHOWN = 12;
const more = ref(false);
const DEADLINES = new Set<Happening["what"]>(["order", "order_half"]);

/** The Monday of a day's week. */
function monday(day: string): string {
  const weekday = (new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7;
  return addDays(day, -weekday);
}
const groups = computed(() => {
  const found: { week: string; rows: Happening[] }[] = [];
  for (const one of weeks.data.value?.happenings ?? []) {
    if (orders.value && !DEADLINES.has(one.what)) continue;
    const week = monday(one.day);
    if (found.at(-1)?.week !== week) found.push({ week, rows: [] });
    found.at(-1)?.rows.push(one);
  }
  return found;
});
const shown = computed(() => (more.value ? groups.value : groups.value.slice(0, SHOWN)));
const left = computed(
  () => (weeks.data.value?.count ?? 0) - (weeks.data.value?.happenings.length ?? 0),
);
const when = (one: Happening): string =>
  one.until ? `${formatShortDay(one.day)} to ${formatDay(one.until)}` : formatShortDay(one.day);
</script>

<template>
  <div class="weeks" tabindex="0" role="region" aria-label="What is to be done, week by week">
    <ScreenGate :pending="!weeks.data.value" :failure="failed" @retry="weeks.refetch()">
      <p class="choice">
        <v-btn :aria-pressed="!orders" @click="orders = false">Everything</v-btn>
        <v-btn :aria-pressed="orders" @click="orders = true">Only what is to be ordered</v-btn>
      </p>
      <p v-if="!groups.length">Nothing is to be done in these months.</p>
      <section v-for="{ week, rows } in shown" :key="week" :aria-label="`Week of ${week}`">
        <h2 class="serif">
          Week of {{ formatDay(week)
          }}<span v-if="pastMark(addDays(week, 6))" class="small"> past</span>
        </h2>
        <ul>
          <li v-for="one in rows" :key="one.id + one.what + one.day" :class="one.what">
            <span class="day">{{ when(one) }}</span>
            <RouterLink :to="pageOf(one)">{{ one.title }}</RouterLink>
          </li>
        </ul>
      </section>
      <p v-if="groups.length > SHOWN">
        <v-btn @click="more = !more">{{
          more
            ? `Only the next ${SHOWN} weeks with entries`
            : `All ${groups.length} weeks with entries`
        }}</v-btn>
      </p>
      <p v-if="left > 0" class="small">
        {{ formatCount(left) }} later entries are left out. Add a condition, or export the list.
      </p>
    </ScreenGate>
  </div>
</template>

<style scoped>
.weeks {
  flex: 1 1 0;
  min-height: 0;
  padding: 8px var(--gutter) 20px;
  overflow-y: auto;
  scrollbar-width: thin;
}

.choice {
  display: flex;
  gap: 16px;
  margin: 0 0 4px;
}

.choice [aria-pressed="true"] {
  font-weight: 600;
}

h2 {
  margin: 12px 0 2px;
  font-size: 15px;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  gap: 12px;
  padding: 3px 0;
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}

li a {
  color: inherit;
}

.order a,
.order_half a {
  font-weight: 600;
}

.day {
  color: var(--ink2);
}

@media (max-height: 540px), (max-width: 760px) {
  .weeks {
    flex: none;
  }
}

@media (max-width: 500px) {
  li {
    grid-template-columns: 1fr;
    gap: 0;
  }
}

@media print {
  .weeks {
    overflow: visible;
  }

  .choice {
    display: none;
  }
}
</style>
