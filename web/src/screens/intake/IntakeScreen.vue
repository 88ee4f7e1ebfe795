<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { useRoute } from "vue-router";
import type { ApiError } from "@/api/client";
import {
  importChecked,
  intakeQueries,
  pullFeed,
  resumeJob,
  stopJob,
  undoBatch,
} from "@/api/intake";
import { registryQueries } from "@/api/registry";
import ScreenGate from "@/ui/ScreenGate.vue";
import { formatDay } from "@/format/values";
import { useMarket } from "@/state/useMarket";
import { useNotice } from "@/state/useNotice";
import { useTabTitle } from "@/state/useTabTitle";
import { useShortcuts } from "@/state/useShortcuts";
import MappingView from "./MappingView.vue";
import BatchTable from "./BatchTable.vue";
import FeedView from "./FeedView.vue";
import { useMappings } from "./useMappings";
import { ACCEPTED, useUpload } from "./useUpload";
import WorkView from "./WorkView.vue";

const route = useRoute();
const jobs = useQuery(intakeQueries.jobs());
const batches = useQuery(intakeQueries.batches());
const cache = useQueryClient();
useTabTitle("Intake");
const { notify } = useNotice();

const latest = computed(() => jobs.data.value?.[0]);
const earlier = computed(() => (jobs.data.value ?? []).slice(1, 8));
const busy = computed(() => ["waiting", "running"].includes(latest.value?.state ?? ""));
const markets = useQuery(registryQueries.markets());
const linked = computed(() => (markets.data.value ?? []).filter((one) => one.data_set));
const tables = useQuery(intakeQueries.exchangeTables());
const { market: selected } = useMarket();
const agreement = useMappings(
  () => jobs.refetch(),
  () => selected.value?.market_id,
);
const agreed = agreement.files;
const ready = agreement.ready;
const { sending, share, failure, leftOut, upload, drop } = useUpload(agreement.begin);

// When work on the market ends, all that was read of it may be other now.
watch(busy, (now, before) => {
  if (before && !now && latest.value?.kind !== "check") void cache.invalidateQueries();
});

/** Does what is asked of the work, and shows where it stands then. */
async function act(what: Promise<unknown>): Promise<void> {
  try {
    await what;
  } catch (error) {
    notify((error as ApiError).message);
  }
  await jobs.refetch();
}

const files = ref<HTMLInputElement | null>(null);
const folder = ref<HTMLInputElement | null>(null);
const over = ref(false);

function chosen(event: Event): void {
  const input = event.target as HTMLInputElement;
  const list = [...(input.files ?? [])];
  const path = list[0]?.webkitRelativePath.split("/") ?? [];
  // Of a folder only the files that lie in it directly are tables.
  const direct = list.filter((file) => file.webkitRelativePath.split("/").length < 3);
  void upload(direct, path.length > 1 ? path[0] : "");
  input.value = "";
}
function dropped(event: DragEvent): void {
  over.value = false;
  if (!busy.value) void drop(event.dataTransfer);
}

useShortcuts([{ keys: ["o"], does: "Choose files to import", run: () => files.value?.click() }]);

const failed = computed(() => (jobs.error.value ?? batches.error.value) as ApiError | null);
const ENDS: Record<string, string> = { done: "done", waiting: "waiting", running: "at work" };
</script>

<template>
  <div class="intake" @dragover.prevent="over = true" @drop.prevent="dropped">
    <ScreenGate :failure="failed" @retry="(jobs.refetch(), batches.refetch())">
      <div class="top">
        <section
          class="drop"
          :class="{ over }"
          aria-label="Upload files"
          @dragleave.self="over = false"
        >
          <h1 class="serif">Intake</h1>
          <p>
            Drop files or a folder here,
            <v-btn :disabled="busy || sending !== null" @click="files?.click()">
              choose files
            </v-btn>
            or
            <v-btn :disabled="busy || sending !== null" @click="folder?.click()">
              choose a folder</v-btn
            >. They are checked first; nothing changes before you say so.
          </p>
          <p class="small">
            CSV, TSV, XLSX, JSON lines or Parquet, plain, gzip or zip. Exchange tables are known by
            their names and columns; of other layouts you are asked which column is what. The one
            that is required is term_weeks: term, week, searches.
          </p>
          <p>
            <v-btn :to="{ path: '/coverage', query: route.query }">Data coverage</v-btn>
            of what was imported, week by week.
            <v-btn :to="{ path: '/faults', query: route.query }">Faults</v-btn>
            if the program itself goes wrong.
          </p>
          <FeedView :busy="busy" @pull="act(pullFeed())" />
          <input
            ref="files"
            type="file"
            multiple
            class="unseen"
            tabindex="-1"
            aria-label="Files to import"
            :accept="ACCEPTED"
            @change="chosen"
          />
          <input
            ref="folder"
            type="file"
            webkitdirectory
            class="unseen"
            tabindex="-1"
            aria-label="Folder to import"
            @change="chosen"
          />
          <p v-if="sending" role="status">
            Uploading {{ sending.name }}: {{ Math.floor(share * 100) }}%
          </p>
          <p v-if="leftOut.length" class="small">
            Skipped, unsupported type: {{ leftOut.slice(0, 5).join(", ")
            }}{{ leftOut.length > 5 ? ` and ${leftOut.length - 5} more` : "" }}.
          </p>
          <p v-if="failure" class="failure" role="alert">
            <b>{{ failure.title }}.</b> {{ failure.message }}
          </p>
        </section>
        <WorkView
          v-if="latest"
          :job="latest"
          @stop="act(stopJob(latest.id))"
          @import="act(importChecked(latest.id))"
          @go-on="act(resumeJob(latest.id))"
          @ask="act(agreement.begin(latest.incoming, latest.name, true))"
        />
      </div>
      <MappingView
        v-if="agreed && tables.data.value"
        v-model:market="agreed.market"
        :markets="markets.data.value ?? []"
        :name="agreed.name"
        :layouts="agreed.layouts"
        :unread="agreed.unread"
        :tables="tables.data.value"
        :ready="ready && !busy"
        @change="agreement.change"
        @check="act(agreement.check())"
        @leave="agreement.leave"
      />
      <section class="below" aria-label="Imports">
        <BatchTable
          v-if="batches.data.value?.length"
          :batches="batches.data.value"
          :busy="busy"
          @undo="act(undoBatch($event.id))"
        />
        <p v-else-if="batches.isSuccess.value">Nothing was imported yet.</p>
        <p v-for="one in linked" :key="one.market_id" class="from">
          {{ one.name }}: figures made over the parts of {{ one.data_set }}
        </p>
        <details v-if="earlier.length" class="small">
          <summary>Earlier work</summary>
          <ul>
            <li v-for="one in earlier" :key="one.id">
              {{ formatDay(one.made_at.slice(0, 10)) }}: {{ one.kind }} of {{ one.name }},
              {{ ENDS[one.state] ?? one.state }}. {{ one.messages.join(" ") }}
            </li>
          </ul>
        </details>
      </section>
    </ScreenGate>
  </div>
</template>

<style scoped>
.from {
  overflow-wrap: anywhere;
}

.intake {
  height: 100%;
  overflow-y: auto;
}

.top {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 8fr);
  border-bottom: 1px solid var(--rule);
  background: var(--page);
}

.top > * {
  padding: 16px var(--gutter) 14px;
}

.top > * + * {
  border-left: 1px solid var(--rule);
}

.drop.over {
  outline: 2px dashed var(--ochre);
  outline-offset: -6px;
}

h1 {
  font-size: 22px;
  margin: 0 0 6px;
}

.drop p {
  margin: 0 0 8px;
  max-width: 52ch;
}

.failure {
  border-left: 2px solid var(--rust);
  padding-left: 8px;
}

.below {
  padding: 14px var(--gutter) 30px;
}

details {
  margin-top: 16px;
}

summary {
  cursor: pointer;
}

@media (max-width: 820px) {
  .top {
    grid-template-columns: minmax(0, 1fr);
  }

  .top > * + * {
    border-left: 0;
    border-top: 1px solid var(--rule);
  }

  .below {
    overflow-x: auto;
  }
}
</style>
