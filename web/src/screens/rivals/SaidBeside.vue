<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { rivalsQueries } from "@/api/rivals";
import { formatCount, formatShare } from "@/format/values";

/** What buyers say of one’s goods against the others of their niches; nothing where nobody writes. */
const props = defineProps<{
  of: "listings" | "brands" | "sellers";
  id: string;
  market: string | undefined;
}>();

const asked = useQuery(
  computed(() => ({
    ...rivalsQueries.voices(props.market ?? "", props.of, props.id),
    enabled: Boolean(props.market && props.id),
  })),
);
const niches = computed(() => (asked.data.value ?? []).filter((one) => one.themes.length));
const span = (low: number | null, high: number | null): string =>
  `${formatShare(low)} to ${formatShare(high)}`;
</script>

<template>
  <section v-if="niches.length" aria-label="What buyers say">
    <h2 class="serif">What buyers say</h2>
    <v-table v-for="niche in niches" :key="niche.niche_id" class="wide-table">
      <caption class="small">
        {{
          formatCount(niche.texts)
        }}
        {{
          niche.texts === 1 ? "text" : "texts"
        }}
        about
        {{
          of === "listings" ? "it" : "its goods"
        }}
        in
        <RouterLink
          :to="{ path: '/dossier', query: { market, niche: niche.niche_id }, hash: '#complaints' }"
          >{{ niche.name }}</RouterLink>,
        {{
          formatCount(niche.others)
        }}
        about others there
      </caption>
      <thead>
        <tr>
          <th v-explain="'voice-theme'" scope="col">theme</th>
          <th v-explain="'voice-beside'" scope="col">tone</th>
          <th v-explain="'voice-share'" scope="col" class="number">here</th>
          <th v-explain="'interval'" scope="col">its 90% interval</th>
          <th v-explain="'voice-beside'" scope="col" class="number">others</th>
          <th v-explain="'interval'" scope="col">its 90% interval</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in niche.themes" :key="one.id">
          <th scope="row">
            {{ one.name
            }}<span v-if="one.says" class="small mark">{{
              one.says === "more" ? "▲ more than the others" : "▼ less than the others"
            }}</span>
          </th>
          <td>{{ one.tone }}</td>
          <td class="number">{{ formatShare(one.own) }}</td>
          <td>{{ span(one.low, one.high) }}</td>
          <td class="number">{{ formatShare(one.others) }}</td>
          <td>{{ span(one.others_low, one.others_high) }}</td>
        </tr>
      </tbody>
    </v-table>
  </section>
</template>

<style scoped>
caption {
  text-align: left;
}

.wide-table {
  max-width: 900px;
  margin-bottom: 14px;
}

th[scope="row"] {
  text-align: left;
  font-weight: 400;
}

.mark {
  margin-left: 8px;
  color: var(--ochre-text);
  white-space: nowrap;
}
</style>
