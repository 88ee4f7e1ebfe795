<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import { formatCount, formatShare, UNKNOWN } from "@/format/values";
import ShareBar from "@/marks/ShareBar.vue";
import ThemePanel from "./ThemePanel.vue";
import type { Theme, ThemesState } from "./useThemes";

/** Themes of one tone with their shares and intervals; each opens to its sentences and what can be decided. */
const props = defineProps<{
  head: string;
  themes: Theme[];
  /** Themes of the same tone that came counted, from the table feedback. */
  counted: Schemas["ThemeRow"][];
  /** All that a theme can be merged with. */
  others: Theme[];
  detail: Schemas["NicheVoices"];
  market: string;
  niche: string;
  state: ThemesState;
}>();

const open = ref("");
const most = computed(() =>
  Math.max(...[...props.themes, ...props.counted].map((one) => one.high ?? 0), 0.01),
);
const stars = (value: number | null): string =>
  value === null ? UNKNOWN : `${value < 0 ? "−" : "+"}${Math.abs(value).toFixed(1)}`;
const hasReturns = computed(() => props.detail.kinds.return > 0);
const columns = computed(() => (hasReturns.value ? 7 : 6));
</script>

<template>
  <v-table class="wide-table themes">
    <caption class="small">
      {{
        head
      }}
    </caption>
    <thead>
      <tr>
        <th v-explain="'voice-theme'" scope="col">theme</th>
        <th v-explain="'voice-share'" scope="col" class="bar">share with its 90% interval</th>
        <th v-explain="'voice-share'" scope="col" class="number">share</th>
        <th v-explain="'voice-year'" scope="col" class="number">52 weeks, before</th>
        <th v-explain="'voice-stars'" scope="col" class="number">stars</th>
        <th v-explain="'voice-leaders'" scope="col" class="number">leaders</th>
        <th v-if="hasReturns" v-explain="'voice-returns'" scope="col" class="number">of returns</th>
      </tr>
    </thead>
    <tbody>
      <template v-for="one in themes" :key="one.id">
        <tr>
          <th scope="row">
            <v-btn
              variant="plain"
              class="name"
              :aria-expanded="open === one.id"
              :data-tip="`What is said of “${one.name}”`"
              @click="open = open === one.id ? '' : one.id"
              >{{ one.name }}</v-btn><span v-if="one.grown" class="small mark">{{
              one.grown === "more" ? "▲ more than a year ago" : "▼ less than a year ago"
            }}</span
            ><span v-if="!one.found" class="small">as you decided</span>
          </th>
          <td class="bar">
            <ShareBar :share="one.share" :low="one.low" :high="one.high" :most="most" />
          </td>
          <td class="number" :data-tip="`${formatShare(one.low)} to ${formatShare(one.high)}`">
            {{ formatShare(one.share) }}
          </td>
          <td class="number">{{ formatShare(one.late) }} after {{ formatShare(one.early) }}</td>
          <td class="number">{{ stars(one.stars) }}</td>
          <td
            class="number"
            :data-tip="`${one.sharing} have it, ${one.lacking} surely lack it, of ${detail.leaders_of - one.sharing - one.lacking} it is not known`"
          >
            {{ detail.leaders_of ? `${one.sharing} of ${detail.leaders_of}` : UNKNOWN }}
          </td>
          <td
            v-if="hasReturns"
            class="number"
            :data-tip="`${formatCount(one.notes)} of ${formatCount(detail.kinds.return)} notes on returns: ${formatShare(one.returned_low)} to ${formatShare(one.returned_high)}`"
          >
            {{ formatShare(one.returned) }}
          </td>
        </tr>
        <tr v-if="open === one.id">
          <td :colspan="columns" class="panel">
            <div class="inside">
              <ThemePanel
                :theme="one"
                :others="others"
                :detail="detail"
                :market="market"
                :niche="niche"
                :state="state"
                @gone="open = ''"
              />
            </div>
          </td>
        </tr>
      </template>
      <tr v-for="one in counted" :key="`${one.kind} ${one.theme}`">
        <th scope="row">
          <span class="name">{{ one.theme }}</span><span class="small counted"
            >counted in {{ one.kind === "return" ? "returns" : "reviews"
            }}<template v-if="one.special">
              · {{ one.special === "more" ? "▲ more" : "▼ fewer" }} than in the category</template
            ></span
          >
        </th>
        <td class="bar">
          <ShareBar :share="one.share" :low="one.low" :high="one.high" :most="most" />
        </td>
        <td
          class="number"
          :data-tip="`${formatShare(one.low)} to ${formatShare(one.high)} of what was counted; in the category ${formatShare(one.usual)}`"
        >
          {{ formatShare(one.share) }}
        </td>
        <td class="number">{{ UNKNOWN }}</td>
        <td class="number">{{ UNKNOWN }}</td>
        <td class="number">{{ UNKNOWN }}</td>
        <td v-if="hasReturns" class="number">
          {{ one.kind === "return" ? formatShare(one.share) : UNKNOWN }}
        </td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
caption {
  text-align: left;
}

.themes {
  margin-bottom: 14px;
}

.themes :deep(table) {
  width: 100%;
}

.themes th[scope="row"] {
  text-align: left;
}

.bar {
  width: 24%;
  min-width: 110px;
}

.name {
  font-weight: 600;
}

.counted {
  margin-left: 8px;
}

.mark {
  margin: 0 8px;
  color: var(--ochre-text);
  white-space: nowrap;
}

.panel {
  padding: 4px 0 12px 14px;
}

/* Where the table is wider than the window, what is read stays in it. */
@media (max-width: 820px) {
  .inside {
    position: sticky;
    left: 14px;
    width: calc(100vw - 80px);
  }
}
</style>
