<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { refDebounced } from "@vueuse/core";
import { computed, ref } from "vue";
import { nicheQueries } from "@/api/niche";
import { formatCount, formatShare } from "@/format/values";
import { useCopy } from "@/state/useCopy";
import TextField from "@/ui/TextField.vue";

/** What to write into a listing: words of the terms that a newcomer could reach, fitted into a length. */
const props = defineProps<{ market: string; niche: string }>();
const copy = useCopy();

const MOST = 1_000;
const SHOWN = 15;
const open = ref(false);
const all = ref(false);
const typed = ref("150");
const first = ref("");
const length = computed(() => {
  const value = Number(typed.value.trim());
  return typed.value.trim() && Number.isInteger(value) && value >= 0 && value <= MOST
    ? value
    : undefined;
});
const settled = refDebounced(
  computed(() => ({ length: length.value, first: first.value.trim().slice(0, 200) })),
  250,
);
const found = useQuery(
  computed(() => ({
    ...nicheQueries.words(
      props.market,
      props.niche,
      settled.value.length ?? 0,
      settled.value.first,
    ),
    enabled: open.value && settled.value.length !== undefined,
  })),
);
const made = computed(() => found.data.value);
const shown = computed(() => made.value?.words.slice(0, all.value ? undefined : SHOWN) ?? []);
/** Words that buyers type and no leading listing uses. */
const unused = computed(() =>
  made.value?.leaders ? made.value.words.filter((one) => !one.leaders).length : 0,
);

const copied = (): Promise<void> =>
  copy(made.value?.text ?? "", "Copied.", "mark the words instead");
</script>

<template>
  <section class="words" aria-label="Words for a listing">
    <h3>
      <v-btn :aria-expanded="open" @click="open = !open">Words for a listing</v-btn>
    </h3>
    <template v-if="open">
      <p v-if="found.error.value" role="alert">{{ (found.error.value as Error).message }}</p>
      <p v-else-if="made && !made.terms.length">
        No term is left to write for: none has searches without a brand’s or a protected word.
      </p>
      <template v-else-if="made">
        <p class="asks">
          <TextField
            v-model="typed"
            class="length"
            inputmode="numeric"
            label="Letters that the words may take"
          />
          <span :class="{ wrong: length === undefined }">{{
            length === undefined ? `letters: expected a whole number from 0 to ${MOST}` : "letters"
          }}</span>
          <TextField
            v-model="first"
            class="first"
            label="Words that come first"
            placeholder="first, as your brand"
          />
        </p>
        <p v-if="made.text" class="text serif" aria-label="Picked words">{{ made.text }}</p>
        <p v-else class="small">No term fits into so few letters.</p>
        <p class="small">
          {{ made.text.length }} of {{ made.length }} letters.
          <template v-if="made.covered !== null"
            >The terms with all their words in it have {{ formatShare(made.covered) }} of the
            <span v-explain="'reach'">reach</span>.</template
          >
          {{
            made.known
              ? "Assumed: what the three leading listings of a term leave is what a newcomer could reach."
              : "No clicks are known, so all searches count as reach."
          }}
          <template v-if="made.left_out"
            >{{ formatCount(made.left_out) }} {{ made.left_out === 1 ? "term" : "terms" }} with
            brand or protected words left out.</template
          >
          <v-btn v-if="made.text" @click="copied">Copy</v-btn>
        </p>
        <p v-if="unused">
          <b>{{ formatCount(unused) }}</b> {{ unused === 1 ? "word" : "words" }} that buyers type,
          no leading listing uses.
        </p>
        <v-table>
          <thead>
            <tr>
              <th scope="col">word</th>
              <th v-explain="'reach'" scope="col" class="number">reach, searches a year</th>
              <th v-explain="'terms-with-word'" scope="col" class="number">terms</th>
              <th v-explain="'leaders-use'" scope="col" class="number">used by leaders</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in shown" :key="one.word">
              <th scope="row">{{ one.word }}</th>
              <td class="number">{{ formatCount(one.reach) }}</td>
              <td class="number">{{ formatCount(one.terms) }}</td>
              <td class="number">
                <span v-if="made.leaders && !one.leaders" class="mark"
                  >none of {{ made.leaders }}</span
                ><template v-else-if="made.leaders"
                  >{{ one.leaders }} of {{ made.leaders }}</template
                ><template v-else>–</template>
              </td>
            </tr>
          </tbody>
        </v-table>
        <v-btn v-if="made.words.length > SHOWN" @click="all = !all">{{
          all ? "Fewer words" : `All ${formatCount(made.words.length)} words`
        }}</v-btn>
      </template>
      <v-progress-linear v-else indeterminate aria-label="Loading" />
    </template>
  </section>
</template>

<style scoped>
.words {
  margin-top: 14px;
}

h3 {
  margin: 0 0 4px;
  font-size: inherit;
  font-weight: 400;
}

.asks {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: baseline;
  margin: 0;
}

.length {
  flex: 0 0 64px;
}

.first {
  flex: 0 1 240px;
}

.wrong {
  color: var(--rust);
}

.text {
  max-width: 70ch;
  margin: 8px 0 4px;
  font-size: 17px;
  overflow-wrap: anywhere;
}

.mark {
  color: var(--ochre-text);
}
</style>
