<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import type { RouteLocationRaw } from "vue-router";
import type { ApiError } from "@/api/client";
import { markSeen, WATCH, type WatchChange, watchQueries } from "@/api/watch";
import { formatDay, formatShare } from "@/format/values";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { howMany, KINDS } from "@/state/useKind";
import { useMarket } from "@/state/useMarket";
import { useNotice } from "@/state/useNotice";
import { usePart } from "@/state/usePart";
import { useTabTitle } from "@/state/useTabTitle";
import FileLinks from "@/ui/FileLinks.vue";
import SelectField from "@/ui/SelectField.vue";
import WatchChanges from "./WatchChanges.vue";
import WatchHistory from "./WatchHistory.vue";
import WatchOwn from "./WatchOwn.vue";
import WatchSieves from "./WatchSieves.vue";

/** The weekly routine: the import, what changed, dates that are due, sieves with something new, and that nothing
 *  else changed. */
const cache = useQueryClient();
const { market } = useMarket();
const { notify } = useNotice();
const part = usePart();
useTabTitle("Watch");

const UNSEEN = "";
const SEEN = "seen";
/** What is shown: what is not seen, what was seen as well, or all since an earlier import. */
const shown = part<string>(
  "since",
  ([text]) => (text && /^(seen|[0-9]{1,9})$/.test(text) ? text : UNSEEN),
  (text) => text,
);
const since = computed(() => (/^[0-9]/.test(shown.value) ? Number(shown.value) : undefined));

const asked = useQuery(
  computed(() => ({
    ...watchQueries.digest(market.value?.market_id ?? "", since.value, shown.value === SEEN),
    enabled: Boolean(market.value),
    placeholderData: keepPreviousData,
  })),
);
const watch = computed(() => asked.data.value);
const choices = computed(() => [
  { title: "not seen yet", value: UNSEEN },
  { title: "all that was told", value: SEEN },
  ...(watch.value?.looks ?? [])
    .slice(1)
    .map((one) => ({ title: `since ${formatDay(one.as_of)}`, value: String(one.id) })),
]);
const watched = computed(() =>
  Object.entries(watch.value?.watched ?? {})
    .map(([of, many]) => howMany(KINDS[of as WatchChange["of"]], many))
    .join(", "),
);
const unseen = computed(() => [
  ...(watch.value?.changes ?? []).filter((one) => one.id !== null && !one.seen_at),
  ...(watch.value?.sieves ?? []).filter((one) => one.id !== null && !one.seen_at),
]);

const to = (path: string, query: Record<string, string>): RouteLocationRaw => ({
  path,
  query: { market: market.value?.market_id ?? "", ...query },
});
function linkOf({ of, subject }: Pick<WatchChange, "of" | "subject">): RouteLocationRaw {
  const { page, home, named } = KINDS[of];
  return page
    ? to(page, { [named]: subject })
    : to(home, { [of === "terms" ? "seed" : named]: subject });
}
const nicheOf = (id: string): RouteLocationRaw => linkOf({ of: "niches", subject: id });

async function mark(ids: number[], seen: boolean): Promise<void> {
  if (!market.value || !ids.length) return;
  try {
    await markSeen(market.value.market_id, ids, seen);
    await cache.invalidateQueries({ queryKey: WATCH });
  } catch (error) {
    notify(`Not marked: ${(error as ApiError).message}`, true);
  }
}
const markAll = (): Promise<void> =>
  mark(
    unseen.value.map((one) => one.id as number),
    true,
  );

const past = ref<WatchChange | null>(null);
const query = computed(() => {
  const found = new URLSearchParams({ market: market.value?.market_id ?? "" });
  if (since.value !== undefined) found.set("since", String(since.value));
  if (shown.value === SEEN) found.set("seen", "true");
  return found.toString();
});
const feed = computed(
  () => `${window.location.origin}/api/watch/feed/?market=${encodeURIComponent(market.value?.market_id ?? "")}`,
); // prettier-ignore
const print = (): void => window.print();
</script>

<template>
  <div class="watch">
    <MarketGate
      :pending="!watch"
      :failure="watch ? null : asked.error.value"
      @retry="asked.refetch()"
    >
      <v-layout v-if="watch" class="beside">
        <v-main tag="div" class="page" tabindex="0" role="region" aria-label="What changed">
          <header class="head">
            <h1 v-explain="'watch'" class="serif">What changed</h1>
            <label class="shown"
              >Show <SelectField v-model="shown" label="What is shown" :items="choices"
            /></label>
            <span class="grow" />
            <v-btn v-if="unseen.length" @click="markAll">All seen</v-btn>
            <FileLinks :address="`/api/watch/file/?${query}`" what="changes" />
            <v-btn :href="feed">Atom feed</v-btn>
            <v-btn @click="print">Print</v-btn>
          </header>
          <p v-if="asked.error.value" class="problem" role="alert">
            {{ asked.error.value.message }}
          </p>

          <section aria-labelledby="watch-figures" class="step">
            <h2 id="watch-figures" class="serif">Figures</h2>
            <p>
              Up to {{ formatDay(watch.as_of)
              }}<template v-if="watch.before"
                >, held against those up to {{ formatDay(watch.before.as_of) }}</template
              >. <RouterLink :to="to('/intake', {})">Import the next week</RouterLink>
            </p>
          </section>

          <section aria-labelledby="watch-changes" class="step">
            <h2 id="watch-changes" class="serif">What is watched</h2>
            <p v-if="watched" class="small">{{ watched }}</p>
            <p v-if="!watch.changes.length">
              {{
                shown === UNSEEN && watch.before
                  ? "No change that you have not seen."
                  : "No change."
              }}
            </p>
            <WatchChanges
              :changes="watch.changes"
              :as-of="watch.as_of"
              :link-of="linkOf"
              @seen="mark"
              @history="past = $event"
            />
            <p v-if="watch.more" class="small">
              and {{ watch.more }} more; mark some as seen, and these come up
            </p>
          </section>

          <section v-if="market" aria-labelledby="watch-own" class="step">
            <h2 id="watch-own" v-explain="'own-part'" class="serif">Our part</h2>
            <WatchOwn :market="market.market_id" :niche-of="nicheOf" />
          </section>

          <section aria-labelledby="watch-due" class="step">
            <h2 id="watch-due" class="serif">Dates due</h2>
            <p v-if="!watch.due.length">No order-by date in the next four weeks.</p>
            <ul v-else class="due">
              <li v-for="one in watch.due" :key="one.subject">
                <b>{{ formatDay(one.day) }}</b>
                <RouterLink class="serif" :to="nicheOf(one.subject)">{{ one.name }}</RouterLink>
                <span class="small"
                  >{{
                    one.days === 0 ? "today" : one.days === 1 ? "tomorrow" : `in ${one.days} days`
                  }}<template v-if="one.caught !== null">
                    · ordered on {{ formatDay(watch.planning_date) }} catches
                    {{ formatShare(one.caught) }}</template
                  ></span
                >
              </li>
            </ul>
          </section>

          <section aria-labelledby="watch-sieves" class="step">
            <h2 id="watch-sieves" class="serif">Sieves</h2>
            <p v-if="!watch.sieves.length">Nothing new under your named sieves.</p>
            <p v-else class="small">
              What crosses a condition may do so by a hair: these are not held to the noise.
            </p>
            <WatchSieves
              :sieves="watch.sieves"
              :as-of="watch.as_of"
              :link-of="(of, subject) => linkOf({ of, subject })"
              @seen="mark"
            />
          </section>

          <p class="end serif" role="status">{{ watch.sentences.join(" ") }}</p>
        </v-main>
        <WatchHistory
          v-if="past && market"
          :market="market.market_id"
          :change="past"
          @close="past = null"
        />
      </v-layout>
    </MarketGate>
  </div>
</template>

<style scoped>
.watch {
  display: flex;
  flex-direction: column;
  height: 100%;
}

.beside {
  flex: 1 1 0;
  min-height: 0;
}

.page {
  overflow-y: auto;
  scrollbar-width: thin;
}

.page > * {
  max-width: 1180px;
  margin-inline: var(--gutter);
}

.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: baseline;
  padding: 8px 0 6px;
}

h1 {
  margin: 0;
  font-size: 19px;
}

.shown {
  display: inline-flex;
  gap: 8px;
  align-items: baseline;
}

.grow {
  flex: 1;
}

.step {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  gap: 0 18px;
  padding: 10px 0;
  border-top: 1px solid var(--ink3);
}

.step > * {
  grid-column: 2;
}

.step > h2 {
  grid-row: 1 / span 40;
  grid-column: 1;
  margin: 0;
  font-size: 16px;
}

.step > p {
  margin: 0 0 2px;
}

.step > p a {
  color: var(--q5);
}

.due {
  margin: 0;
  padding: 0;
  list-style: none;
}

.due li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
  align-items: baseline;
  padding: 2px 0;
}

.due b {
  min-width: 92px;
  font-weight: 600;
  color: var(--ochre-text);
}

.due a {
  font-size: 15px;
  color: inherit;
  text-decoration: none;
}

.due a:hover {
  text-decoration: underline;
}

.end {
  margin-block: 0 30px;
  padding: 12px 0;
  border-top: 1px solid var(--ink3);
  font-size: 15px;
}

.problem {
  color: var(--rust);
}

@media (max-width: 760px) {
  .step {
    display: block;
  }
}

@media (max-height: 540px), (max-width: 760px) {
  .watch {
    height: auto;
  }

  .beside {
    flex: none;
    overflow: visible;
  }

  .page {
    overflow: visible;
  }
}

@media print {
  .watch {
    display: block;
    height: auto;
  }

  .page {
    overflow: visible;
  }

  .head :deep(.v-btn),
  .head :deep(.files) {
    display: none;
  }
}
</style>
