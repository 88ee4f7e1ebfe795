<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import ThemesChart from "@/charts/ThemesChart.vue";
import { formatCount, formatShare } from "@/format/values";
import ShareBar from "@/marks/ShareBar.vue";

type Theme = Schemas["ThemeRow"];

/** Themes of reviews and returns: their shares with intervals beside what is usual in the category, by
 *  quarter, and by listing. */
const props = defineProps<{
  feedback: Schemas["FeedbackDetail"];
  /** Its themes stand in the list of what buyers write. */
  listed: boolean;
}>();

const HEADS: Record<string, string> = {
  "review complaint": "Complaints in reviews",
  "return complaint": "Reasons of returns",
  "review praise": "Praise in reviews",
};

const keyOf = (one: { kind: string; tone: string }): string => `${one.kind} ${one.tone}`;
const headOf = (key: string): string => HEADS[key] ?? key;
const courses = computed(() =>
  groups.value.flatMap(({ key }) => {
    const themes = props.feedback.over_time.filter((one) => keyOf(one) === key);
    return themes.length && props.feedback.quarters.length > 1 ? [{ key, themes }] : [];
  }),
);

const groups = computed(() => {
  const made = new Map<string, Theme[]>();
  for (const one of props.feedback.themes) {
    const key = keyOf(one);
    made.set(key, [...(made.get(key) ?? []), one]);
  }
  const known = Object.keys(HEADS).filter((key) => made.has(key));
  const others = [...made.keys()].filter((key) => !(key in HEADS));
  return [...known, ...others].map((key) => {
    const rows = made.get(key) ?? [];
    const most = Math.max(...rows.map((one) => Math.max(one.high ?? 0, one.usual ?? 0)), 0.01);
    return { key, head: headOf(key), rows, most };
  });
});
</script>

<template>
  <div v-if="!listed" class="groups">
    <v-table v-for="group in groups" :key="group.key">
      <caption class="small">
        {{
          group.head
        }}
      </caption>
      <thead>
        <tr>
          <td />
          <th v-explain="'theme-share'" scope="col" class="bar">
            share with its 90% interval · tick: the category
          </th>
          <th v-explain="'theme-share'" scope="col">share</th>
          <th v-explain="'usual'" scope="col">usual</th>
          <th v-explain="'mentions'" scope="col">mentions</th>
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
            <ShareBar
              :share="one.share"
              :low="one.low"
              :high="one.high"
              :usual="one.usual"
              :most="group.most"
            />
          </td>
          <td>{{ formatShare(one.share) }}</td>
          <td>{{ formatShare(one.usual) }}</td>
          <td>{{ formatCount(one.mentions) }}</td>
        </tr>
      </tbody>
    </v-table>
  </div>
  <div v-if="courses.length" class="beside courses">
    <ThemesChart
      v-for="{ key, themes } in courses"
      :key="key"
      :head="headOf(key)"
      :quarters="feedback.quarters"
      :themes="themes"
    />
  </div>
  <p v-else-if="feedback.themes.length" class="small">
    Import week in feedback to see how what is said has changed.
  </p>
  <v-table v-if="feedback.listings.length" class="by-listing">
    <caption>
      What each listing is complained of most, in reviews and returns
    </caption>
    <thead>
      <tr>
        <th v-explain="'listing'" scope="col">listing</th>
        <th v-explain="'complaints'" scope="col" class="number">complaints</th>
        <th v-explain="'most-often'" scope="col">most often</th>
        <th v-explain="'theme-share'" scope="col" class="number">share</th>
        <th v-explain="'interval'" scope="col">its 90% interval</th>
        <th v-explain="'in-the-niche'" scope="col" class="number">in the niche</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in feedback.listings" :key="one.listing_id">
        <th scope="row">{{ one.title }}</th>
        <td class="number">{{ formatCount(one.mentions) }}</td>
        <td>
          {{ one.theme
          }}<span v-if="one.special" class="small mark">
            {{
              one.share > one.usual ? "▲ more than in the niche" : "▼ less than in the niche"
            }}</span
          >
        </td>
        <td class="number">{{ formatShare(one.share) }}</td>
        <td>{{ formatShare(one.low) }} to {{ formatShare(one.high) }}</td>
        <td class="number">{{ formatShare(one.usual) }}</td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
.courses {
  margin-top: 14px;
}

.groups {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(420px, 1fr));
  gap: 18px 34px;
}

.groups .v-table :deep(table) {
  border-collapse: collapse;
  table-layout: fixed;
  width: 100%;
  align-self: start;
}

.groups caption {
  text-align: left;
}

.groups th,
.groups td {
  text-align: right;
  font-weight: 400;
  width: 56px;
  padding: 2px 8px 2px 0;
  border-bottom: 1px solid var(--rule);
}

.groups thead th {
  font: 11px var(--condensed);
  color: var(--ink3);
}

.groups tr > :first-child {
  width: auto;
  text-align: left;
}

.groups .bar {
  width: 32%;
  text-align: left;
}

.by-listing {
  margin-top: 14px;
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
