<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import { nicheQueries } from "@/api/niche";
import { formatCount, formatShare } from "@/format/values";
import PageSteps from "@/ui/PageSteps.vue";
import SelectField from "@/ui/SelectField.vue";
import TextField from "@/ui/TextField.vue";
import SaidList from "./SaidList.vue";
import type { Theme, ThemesState } from "./useThemes";

/** One theme close up: what it rests on, the sentences, and what can be decided on it. */
const props = defineProps<{
  theme: Theme;
  others: Theme[];
  detail: Schemas["NicheVoices"];
  market: string;
  niche: string;
  state: ThemesState;
}>();
const emit = defineEmits<{ gone: [] }>();

const AT_ONCE = 50;
const all = ref(false);
const first = ref(0);
const page = useQuery(
  computed(() => ({
    ...nicheQueries.voiceSentences(
      props.market,
      props.niche,
      props.detail.language,
      props.theme.id,
      first.value,
    ),
    enabled: all.value,
  })),
);
const sentences = computed(() =>
  all.value ? (page.data.value?.sentences ?? []) : props.theme.sentences,
);

const asking = ref<"" | "rename" | "merge" | "split">("");
const name = ref("");
const words = ref("");
const into = ref<string | null>(null);
const mergeable = computed(() =>
  props.others
    .filter((one) => one.id !== props.theme.id)
    .map((one) => ({ title: `${one.name} (${one.tone})`, value: one.id })),
);
function ask(what: "rename" | "merge" | "split"): void {
  asking.value = asking.value === what ? "" : what;
  name.value = what === "rename" ? props.theme.name : "";
  words.value = "";
  into.value = null;
}

async function save(): Promise<void> {
  const { id: theme, name: was } = props.theme;
  const act = asking.value;
  if (!act) return;
  const list = words.value.split(",");
  const done =
    act === "rename"
      ? await props.state.decide({ act, theme, name: name.value }, `Renamed “${was}”.`)
      : act === "merge"
        ? await props.state.decide({ act, theme, into: into.value ?? "" }, `Merged “${was}”.`)
        : await props.state.decide(
            { act, theme, name: name.value, words: list },
            `Split “${name.value}” off “${was}”.`,
          );
  if (!done) return;
  asking.value = "";
  if (act === "merge") emit("gone");
}
const TONES = ["complaint", "praise", "either"] as const;
const turn = (tone: (typeof TONES)[number]): Promise<boolean> =>
  props.state.decide(
    { act: "tone", theme: props.theme.id, tone },
    `“${props.theme.name}” is ${tone === "either" ? "neither one nor the other" : tone} now.`,
  );
async function hide(): Promise<void> {
  const { id: theme, name: was } = props.theme;
  if (await props.state.decide({ act: "hide", theme }, `Hid “${was}”.`)) emit("gone");
}
</script>

<template>
  <p class="small facts">
    {{ formatCount(theme.texts) }} of {{ formatCount(detail.texts) }} texts say it, of
    {{ formatCount(theme.listings) }} {{ theme.listings === 1 ? "listing" : "listings" }}. Its
    words: {{ theme.words.join(", ") }}.<template v-if="theme.merged.length">
      Merged into it: {{ theme.merged.join("; ") }}.</template
    ><template v-if="theme.most.length">
      Said most of
      {{
        theme.most.map((one) => `${one.title} (${one.own} of ${one.whole} texts)`).join("; ")
      }}.</template
    >
  </p>
  <SaidList
    :sentences="sentences"
    :busy="state.busy.value"
    @pin="state.pin($event, theme.name)"
    @unpin="state.unpin"
  />
  <PageSteps v-if="all" v-model="first" :total="page.data.value?.total ?? 0" :at-once="AT_ONCE" />
  <p class="acts">
    <v-btn v-if="theme.texts > sentences.length && !all" @click="all = true">All sentences</v-btn>
    <v-btn v-else-if="all" @click="all = false">Only the telling ones</v-btn>
    <v-btn :aria-expanded="asking === 'rename'" @click="ask('rename')">Rename</v-btn>
    <v-btn v-if="mergeable.length" :aria-expanded="asking === 'merge'" @click="ask('merge')"
      >Merge</v-btn
    >
    <v-btn :aria-expanded="asking === 'split'" @click="ask('split')">Split</v-btn>
    <v-btn
      v-for="tone in TONES.filter((one) => one !== theme.tone)"
      :key="tone"
      :disabled="state.busy.value"
      @click="turn(tone)"
      >{{ tone === "either" ? "It is neither" : `It is ${tone}` }}</v-btn
    >
    <v-btn :disabled="state.busy.value" @click="hide">Hide</v-btn>
  </p>
  <form v-if="asking" class="ask" @submit.prevent="save">
    <template v-if="asking === 'merge'">
      <span>Merge into</span>
      <SelectField v-model="into" label="The theme to merge into" :items="mergeable" />
    </template>
    <template v-else>
      <template v-if="asking === 'split'">
        <span>Split off what says</span>
        <TextField v-model="words" label="Words that split off" placeholder="seam, split open" />
        <span>as</span>
      </template>
      <TextField v-model="name" label="Name of the theme" placeholder="a name" />
    </template>
    <v-btn type="submit" :disabled="state.busy.value || (asking === 'merge' && !into)">{{
      asking === "rename" ? "Rename" : asking === "merge" ? "Merge" : "Split"
    }}</v-btn>
    <v-btn @click="asking = ''">Cancel</v-btn>
    <span v-if="asking === 'split'" class="small"
      >phrases with commas between; all words of one stand in a sentence</span
    >
  </form>
  <p v-if="theme.notes" class="small">
    {{ formatCount(theme.notes) }} of {{ formatCount(detail.kinds.return) }} notes on returns say it
    ({{ formatShare(theme.returned_low) }} to {{ formatShare(theme.returned_high) }}).
  </p>
</template>

<style scoped>
.facts {
  margin: 0 0 6px;
  max-width: 100ch;
}

.acts,
.ask {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 10px;
  margin: 6px 0;
}

.ask .v-input {
  flex: 0 1 220px;
}
</style>
