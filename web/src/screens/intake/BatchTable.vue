<script setup lang="ts">
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { Schemas } from "@/api/client";
import { formatCount, formatDay, formatMoment } from "@/format/values";
import BatchBrought from "./BatchBrought.vue";
import CountTable from "./CountTable.vue";
import { describeMapping } from "./describeMapping";

/** What was imported, the latest first. */
defineProps<{ batches: Schemas["BatchRow"][]; busy: boolean }>();
const emit = defineEmits<{ undo: [batch: Schemas["BatchRow"]] }>();

/** The one whose details are shown stands in the address, so that it can be sent. */
const route = useRoute();
const router = useRouter();
const open = computed(() => Number(route.query.batch) || null);
function show(id: number): void {
  void router.replace({ query: { ...route.query, batch: open.value === id ? undefined : id } });
}
/** Taking back is asked for twice: a click by mistake would cost minutes. */
const asked = ref<number | null>(null);

/** Rows and curves that an import made or changed, apart: 2,412 rows, 96 curves. */
function total(batch: Schemas["BatchRow"], what: "new" | "changed"): string {
  const sums = (["rows", "curves"] as const).map((of) => {
    const many = batch.counts
      .filter((one) => one.of === of)
      .reduce((sum, one) => sum + one[what], 0);
    return many ? `${formatCount(many)} ${many === 1 ? of.slice(0, -1) : of}` : "";
  });
  return sums.filter(Boolean).join(", ") || "0";
}
function undo(batch: Schemas["BatchRow"]): void {
  asked.value = null;
  emit("undo", batch);
}
</script>

<template>
  <v-table class="wide-table batches">
    <caption>
      Imports that changed something, the latest first. The latest can be undone.
    </caption>
    <thead>
      <tr>
        <th v-explain="'imported-at'" scope="col">when</th>
        <th v-explain="'batch'" scope="col">what</th>
        <th v-explain="'imported-by'" scope="col">by</th>
        <th v-explain="'new'" scope="col" class="number">new</th>
        <th v-explain="'changed'" scope="col" class="number">changed</th>
        <th v-explain="'checksum'" scope="col">checksum</th>
        <td><span class="unseen">what can be done</span></td>
      </tr>
    </thead>
    <tbody>
      <template v-for="one in batches" :key="one.id">
        <tr :class="{ undone: one.undone_at }">
          <td>{{ formatMoment(one.made_at) }}</td>
          <th scope="row" class="name">
            <v-btn
              variant="plain"
              class="number-button"
              data-tip="Shows which weeks it brought and which figures it changed."
              :aria-expanded="open === one.id"
              @click="show(one.id)"
            >
              {{ one.name }}
            </v-btn>
          </th>
          <td>{{ one.by || "–" }}</td>
          <td class="number">{{ total(one, "new") }}</td>
          <td class="number">{{ total(one, "changed") }}</td>
          <td>
            <code class="small" :data-tip="`BLAKE2b, 256 bits: ${one.digest}`">{{
              one.digest.slice(0, 12)
            }}</code>
          </td>
          <td>
            <span v-if="one.undone_at" class="small"
              >undone {{ formatDay(one.undone_at.slice(0, 10)) }}</span
            >
            <template v-else-if="one.latest && asked === one.id">
              <v-btn :disabled="busy" @click="undo(one)"> Undo import of {{ one.name }} </v-btn>
              <v-btn @click="asked = null">Cancel</v-btn>
            </template>
            <v-btn v-else-if="one.latest" :disabled="busy" @click="asked = one.id">
              Undo import …
            </v-btn>
          </td>
        </tr>
        <tr v-if="open === one.id">
          <td colspan="7">
            <div class="beside">
              <CountTable :counts="one.counts" caption="In rows and curves" />
              <div>
                <ul v-if="one.mappings.length" class="plain" aria-label="How files were read">
                  <li v-for="{ file, mapping } in one.mappings" :key="file">
                    <b>{{ file }}</b> {{ describeMapping(mapping) }}
                  </li>
                </ul>
                <ul v-if="one.notes.length" class="small" aria-label="Notes">
                  <li v-for="note in one.notes" :key="note">{{ note }}</li>
                </ul>
              </div>
            </div>
            <BatchBrought :id="one.id" />
          </td>
        </tr>
      </template>
    </tbody>
  </v-table>
</template>

<style scoped>
.batches {
  width: 100%;
  min-width: 760px;
}

.batches .number + :not(.number) {
  padding-left: 24px;
}

.name {
  max-width: 320px;
  overflow-wrap: anywhere;
}

.undone {
  color: var(--ink3);
}

.beside {
  padding-top: 6px;
}

.plain {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
  overflow-wrap: anywhere;
}

.v-btn {
  margin-right: 12px;
}
</style>
