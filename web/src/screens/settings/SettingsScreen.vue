<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { useRoute } from "vue-router";
import type { ApiError, Schemas } from "@/api/client";
import { intakeQueries } from "@/api/intake";
import {
  analyse,
  chooseLanguage,
  chooseSettings,
  type Language,
  registryQueries,
} from "@/api/registry";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useMarket } from "@/state/useMarket";
import { useNotice } from "@/state/useNotice";
import { useTabTitle } from "@/state/useTabTitle";
import SelectField from "@/ui/SelectField.vue";
import TextField from "@/ui/TextField.vue";
import { numberOf, plainNumber } from "./settingText";

type Setting = Schemas["SettingRow"];

/** Every setting of the computation, for the market one is in. */
const { market, id } = useMarket();
const cache = useQueryClient();
const { notify } = useNotice();
const found = useQuery(computed(() => registryQueries.settings(id.value)));
const jobs = useQuery(intakeQueries.jobs());
useTabTitle("Settings");

const titled = (one: string): string => one[0]?.toUpperCase() + one.slice(1);
const languages = computed(() =>
  (found.data.value?.languages ?? []).map((value) => ({ title: titled(value), value })),
);
const groups = computed(() => found.data.value?.groups ?? []);
const pending = computed(() => found.data.value?.pending ?? []);
const every = computed(() => groups.value.flatMap((group) => group.settings));

const waiting = computed(() =>
  every.value.filter((one) => pending.value.includes(one.key)).map((one) => one.name),
);

/** What is typed and not saved yet, by key. */
const typed = ref<Record<string, string>>({});
watch(id, () => (typed.value = {}));
const shown = (one: Setting): string => typed.value[one.key] ?? plainNumber(one.value);
/** What would be saved: what is typed and another value than the one that holds. */
const changes = computed(() =>
  every.value.filter((one) => {
    const text = typed.value[one.key];
    return text !== undefined && numberOf(text) !== one.value;
  }),
);
const wrong = (one: Setting): string => {
  const text = typed.value[one.key];
  if (text === undefined) return "";
  const value = numberOf(text);
  const kind = one.whole ? "a whole number" : "a number";
  if (value === null || (one.whole && !Number.isInteger(value)))
    return `expected ${kind} from ${plainNumber(one.low)} to ${plainNumber(one.high)}; got “${text}”`;
  return value < one.low || value > one.high
    ? `expected ${plainNumber(one.low)} to ${plainNumber(one.high)}; got ${text}`
    : "";
};
const faulty = computed(() => changes.value.filter((one) => wrong(one)));

const route = useRoute();
/** An address may name the setting that is looked for. */
const wanted = ref(typeof route.query["find"] === "string" ? route.query["find"] : "");
watch(
  () => route.query["find"],
  (named) => typeof named === "string" && (wanted.value = named),
);
const visible = computed(() => {
  const words = wanted.value.toLowerCase().split(/\s+/).filter(Boolean);
  return groups.value
    .map((group) => ({
      ...group,
      settings: group.settings.filter((one) => {
        const text = `${group.title} ${one.key} ${one.name} ${one.help}`.toLowerCase();
        return words.every((word) => text.includes(word));
      }),
    }))
    .filter((group) => group.settings.length);
});

const busy = ref(false);
async function save(): Promise<void> {
  if (!id.value || faulty.value.length) return;
  busy.value = true;
  try {
    const changed = Object.fromEntries(
      changes.value.map((one) => [one.key, numberOf(typed.value[one.key] ?? "")]),
    );
    const made = await chooseSettings(id.value, changed);
    typed.value = {};
    void cache.invalidateQueries();
    notify(
      made.pending.length ? "Saved. Some need a new analysis." : "Saved; they hold from now on.",
    );
  } catch (error) {
    notify(`Not saved: ${(error as ApiError).message}`, true);
  } finally {
    busy.value = false;
  }
}

/** The analysis that is under way, or whatever else is at work on the data. */
const job = computed(() => {
  const latest = jobs.data.value?.[0];
  return latest && ["waiting", "running"].includes(latest.state) ? latest : undefined;
});
watch(job, (now, before) => {
  if (!before || now) return;
  void cache.invalidateQueries();
  const ended = jobs.data.value?.[0];
  if (ended?.kind === "analyse") notify(ended.messages[0] ?? `Analysis ${ended.state}.`);
});
/** Searches from a word follow at once; nothing else of the figures rests on it. */
async function speak(language: Language): Promise<void> {
  if (!id.value) return;
  try {
    await chooseLanguage(id.value, language);
    notify(`Endings are taken off words as in ${titled(language)}.`);
  } catch (error) {
    notify((error as ApiError).message);
  }
  await cache.invalidateQueries();
}

async function start(): Promise<void> {
  if (!id.value) return;
  try {
    await analyse(id.value);
  } catch (error) {
    notify((error as ApiError).message);
  }
  await jobs.refetch();
}
</script>

<template>
  <div class="settings">
    <MarketGate :pending="!found.data.value" :failure="found.error.value" @retry="found.refetch()">
      <header>
        <h1 class="serif">Settings of {{ market?.name }}</h1>
        <TextField
          v-model="wanted"
          class="find"
          label="Find a setting"
          placeholder="find a setting"
        />
        <span v-if="market" class="language">
          <span v-explain="'term-language'">Language of the terms</span>
          <SelectField
            label="Language of the terms"
            :items="languages"
            :model-value="market.language as Language"
            @update:model-value="speak"
          />
        </span>
        <v-btn :to="{ path: '/protected', query: { market: market?.market_id } }"
          >Protected words</v-btn
        >
      </header>
      <p v-if="job" class="work" role="status">
        {{ job.kind === "analyse" ? "Analysing" : "At work:" }} {{ job.name }}
        <v-progress-linear
          :model-value="job.whole ? (job.done / job.whole) * 100 : 0"
          :indeterminate="!job.whole"
          aria-label="How far the work is"
        />
      </p>
      <p v-else-if="pending.length" class="waiting">
        <b>{{ waiting.join(", ") }}</b>
        {{ pending.length === 1 ? "holds" : "hold" }} only after a new analysis; the present figures
        were made without.
        <v-btn @click="start">Analyse now</v-btn>
      </p>
      <form @submit.prevent="save">
        <section v-for="group in visible" :key="group.title" :aria-label="group.title">
          <h2 class="serif">
            {{ group.title }} <span class="small">changes {{ group.touches }}</span>
          </h2>
          <div v-for="one in group.settings" :key="one.key" class="row">
            <span class="name">{{ one.name }}</span>
            <TextField
              :model-value="shown(one)"
              :label="one.name"
              inputmode="decimal"
              :class="{ own: numberOf(shown(one)) !== one.default }"
              @update:model-value="typed[one.key] = $event"
            />
            <span class="small">
              <v-btn
                v-if="numberOf(shown(one)) !== one.default"
                :aria-label="`${one.name} back to ${plainNumber(one.default)}`"
                @click="typed[one.key] = plainNumber(one.default)"
                >default {{ plainNumber(one.default) }}</v-btn
              >
              <template v-else>default</template>
            </span>
            <span class="help">
              {{ one.help }}
              <span v-if="pending.includes(one.key)" class="small">
                The present figures were made with {{ plainNumber(one.used) }}.
              </span>
              <span v-if="wrong(one)" class="wrong" role="alert">{{ wrong(one) }}</span>
            </span>
          </div>
        </section>
        <p v-if="!visible.length" class="small">No setting says that.</p>
        <footer v-if="changes.length">
          <v-btn variant="flat" type="submit" :disabled="busy || faulty.length > 0">
            Save {{ changes.length }} {{ changes.length === 1 ? "change" : "changes" }}
          </v-btn>
          <v-btn @click="typed = {}">Discard</v-btn>
        </footer>
      </form>
    </MarketGate>
  </div>
</template>

<style scoped>
.language {
  display: inline-flex;
  align-items: baseline;
  gap: 8px;
}

.settings {
  height: 100%;
  overflow-y: auto;
  box-sizing: border-box;
  padding: 14px var(--gutter) 0;
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  justify-content: space-between;
  gap: 4px 40px;
}

h1 {
  margin: 0;
  font-size: 24px;
}

h2 {
  margin: 22px 0 4px;
  font-size: 17px;
}

.find {
  max-width: 260px;
}

.row {
  display: grid;
  grid-template-columns: 220px 110px 90px minmax(0, 1fr);
  gap: 0 22px;
  align-items: baseline;
  padding: 3px 0;
  border-top: 1px solid var(--rule);
}

.name {
  font-weight: 600;
}

.help {
  color: var(--ink2);
  max-width: 80ch;
}

.own :deep(input) {
  font-weight: 600;
  color: var(--ochre-text);
}

.wrong {
  display: block;
  color: var(--rust);
}

.work,
.waiting {
  max-width: 80ch;
  margin: 10px 0 0;
}

footer {
  position: sticky;
  bottom: 0;
  display: flex;
  align-items: baseline;
  gap: 20px;
  padding: 10px 0;
  border-top: 1px solid var(--ink);
  background: var(--paper);
}

form {
  padding-bottom: 20px;
}

@media (max-width: 760px) {
  .row {
    grid-template-columns: minmax(0, 1fr) 100px 80px;
  }

  .help {
    grid-column: 1 / -1;
  }
}
</style>
