<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { sayCount, sayShare } from "@/shared/format";

type Theme = Schemas["ThemeRow"];

/** Themes of reviews and returns: their shares with intervals, beside what is usual in the category. */
const props = defineProps<{ themes: Theme[] }>();

const HEADS: Record<string, string> = {
  "review complaint": "Complaints in reviews",
  "return complaint": "Reasons of returns",
  "review praise": "Praise in reviews",
};

const groups = computed(() => {
  const made = new Map<string, Theme[]>();
  for (const one of props.themes) {
    const key = `${one.kind} ${one.tone}`;
    made.set(key, [...(made.get(key) ?? []), one]);
  }
  const known = Object.keys(HEADS).filter((key) => made.has(key));
  const others = [...made.keys()].filter((key) => !(key in HEADS));
  return [...known, ...others].map((key) => {
    const rows = made.get(key) ?? [];
    const most = Math.max(...rows.map((one) => Math.max(one.high ?? 0, one.usual ?? 0)), 0.01);
    return { key, head: HEADS[key] ?? key, rows, at: (share: number) => (share / most) * 100 };
  });
});
</script>

<template>
  <div class="groups">
    <table v-for="group in groups" :key="group.key">
      <caption class="small">
        {{
          group.head
        }}
      </caption>
      <thead>
        <tr>
          <td />
          <th scope="col" class="bar">share with its 90% interval · tick: the category</th>
          <th scope="col">share</th>
          <th scope="col">usual</th>
          <th scope="col">mentions</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in group.rows" :key="one.theme">
          <th scope="row">
            {{ one.theme
            }}<span v-if="one.special" class="small mark">
              {{ one.special === "more" ? "▲ more here" : "▼ fewer here" }}</span
            >
          </th>
          <td class="bar">
            <svg viewBox="0 0 100 12" preserveAspectRatio="none" aria-hidden="true">
              <rect y="3" height="6" :width="group.at(one.share ?? 0)" />
              <path :d="`M${group.at(one.low ?? 0)} 6H${group.at(one.high ?? 0)}`" />
              <line
                v-if="one.usual !== null"
                :x1="group.at(one.usual)"
                :x2="group.at(one.usual)"
                y1="0"
                y2="12"
              />
            </svg>
          </td>
          <td>{{ sayShare(one.share) }}</td>
          <td>{{ sayShare(one.usual) }}</td>
          <td>{{ sayCount(one.mentions) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.groups {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(420px, 1fr));
  gap: 18px 34px;
}

table {
  border-collapse: collapse;
  table-layout: fixed;
  width: 100%;
  align-self: start;
}

caption {
  text-align: left;
}

th,
td {
  text-align: right;
  font-weight: 400;
  width: 56px;
  padding: 2px 8px 2px 0;
  border-bottom: 1px solid var(--rule);
}

thead th {
  font: 11px var(--condensed);
  color: var(--ink3);
}

tr > :first-child {
  width: auto;
  text-align: left;
}

.bar {
  width: 32%;
  text-align: left;
}

svg {
  display: block;
  width: 100%;
  height: 13px;
}

rect {
  fill: var(--q3);
}

path {
  stroke: var(--q6);
  stroke-width: 1.2;
  vector-effect: non-scaling-stroke;
}

line {
  stroke: var(--ochre);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}

.mark {
  margin-left: 6px;
  color: var(--ochre-text);
  white-space: nowrap;
}

@media (max-width: 820px) {
  .groups {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
