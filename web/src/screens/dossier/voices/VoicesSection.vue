<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { complaintsOf } from "@/format/voices";
import { formatCount, formatDay } from "@/format/values";
import FileLinks from "@/ui/FileLinks.vue";
import SelectField from "@/ui/SelectField.vue";
import AskedList from "./AskedList.vue";
import BetterProduct from "./BetterProduct.vue";
import ContrastList from "./ContrastList.vue";
import PromiseTable from "./PromiseTable.vue";
import ThemeDecisions from "./ThemeDecisions.vue";
import ThemeTable from "./ThemeTable.vue";
import { useThemes } from "./useThemes";

/** What buyers write: themes by tone, what they ask and wish, what was not as promised, and what follows for a product. */
const props = defineProps<{
  detail: Schemas["NicheVoices"];
  counted: Schemas["ThemeRow"][];
  market: string;
  niche: string;
}>();
const language = defineModel<string>("language", { required: true });
const state = useThemes(() => ({
  market: props.market,
  niche: props.niche,
  language: props.detail.language,
}));

const HEADS = [
  { tone: "complaint", head: "Complaints" },
  { tone: "praise", head: "Praise" },
  { tone: "either", head: "Neither praise nor complaint by itself" },
] as const;
const shown = computed(() => props.detail.themes.filter((one) => !one.hidden));
const tables = computed(() =>
  HEADS.map(({ tone, head }) => ({
    tone,
    head,
    themes: shown.value.filter((one) => one.tone === tone),
    counted: props.counted.filter((one) => one.tone === tone),
  })).filter(({ themes, counted }) => themes.length || counted.length),
);
const complaints = computed(() => complaintsOf(props.detail).slice(0, 8));
const choices = computed(() =>
  props.detail.languages
    .filter((one) => one.read)
    .map((one) => ({ title: `${one.language} (${formatCount(one.texts)})`, value: one.language })),
);
const unread = computed(() => props.detail.languages.filter((one) => !one.read));

const many = (count: number, one: string, several: string): string =>
  count ? `${formatCount(count)} ${count === 1 ? one : several}` : "";
const basis = computed(() => {
  const { kinds, copies, since, until } = props.detail;
  const parts = [
    many(kinds.review, "review", "reviews"),
    many(kinds.return, "note on a return", "notes on returns"),
    many(kinds.comment, "comment", "comments"),
    many(kinds.question, "question", "questions"),
  ].filter(Boolean);
  const dates = since && until ? `, written ${formatDay(since)} to ${formatDay(until)}` : "";
  const again = copies ? ` ${formatCount(copies)} more are copies, and count once.` : "";
  if (!parts.length) return "";
  return `From ${parts.join(", ")}${dates}.${again} What told who wrote was blanked before it was stored.`;
});
const file = computed(
  () =>
    `/api/niche/voices/file/?${new URLSearchParams({
      market: props.market,
      niche: props.niche,
      language: props.detail.language,
    }).toString()}`,
);
</script>

<template>
  <p class="small basis">
    {{ basis
    }}<template v-if="detail.texts && !detail.learnt">
      Too few texts are rated to learn how praise and complaint are worded: a sentence has the tone
      of its text.</template
    ><template v-for="one in unread" :key="one.language">
      {{ one.texts === 1 ? "1 text is" : `${formatCount(one.texts)} texts are` }} in “{{
        one.language
      }}” and not read: there is no stemmer for it.</template
    >
  </p>
  <SelectField
    v-if="choices.length > 1"
    v-model="language"
    label="Language of the texts"
    :items="choices"
  />
  <p v-if="shown.length" class="basis"><FileLinks :address="file" what="the themes" /></p>
  <ThemeDecisions v-if="detail.texts" :decisions="detail.decisions" :state="state" />
  <ThemeTable
    v-for="table in tables"
    :key="table.tone"
    :head="table.head"
    :themes="table.themes"
    :counted="table.counted"
    :others="shown"
    :detail="detail"
    :market="market"
    :niche="niche"
    :state="state"
  />
  <BetterProduct
    v-if="complaints.length"
    :complaints="complaints"
    :detail="detail"
    :state="state"
  />
  <PromiseTable
    v-if="detail.promises.length"
    :promises="detail.promises"
    :notes="detail.kinds.return"
    :state="state"
  />
  <div v-if="detail.questions.length || detail.wishes.length" class="beside">
    <AskedList
      v-if="detail.questions.length"
      head="What they ask"
      :asked="detail.questions"
      :state="state"
    />
    <AskedList
      v-if="detail.wishes.length"
      head="What they wish for"
      :asked="detail.wishes"
      :state="state"
    />
  </div>
  <ContrastList :contrasts="detail.contrasts" />
</template>

<style scoped>
.basis {
  margin: 0 0 8px;
}
</style>
