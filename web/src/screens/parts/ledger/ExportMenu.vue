<script setup lang="ts">
import { NICHES } from "@/api/client";
import { useKind } from "@/state/useKind";
import FileLinks from "@/ui/FileLinks.vue";

const kind = useKind();
/** What can be taken out of a ledger: the ledger, all that was read, and the figures behind it. */
defineProps<{
  /** The ledger’s address; those of the others end in the same query. */
  ledger: string;
  readings: string;
  tables: string;
  whole: string;
  what: string;
}>();

const READINGS = [
  { form: "csv", label: "CSV" },
  { form: "xlsx", label: "XLSX" },
  { form: "jsonl", label: "JSON lines" },
  { form: "parquet", label: "Parquet" },
];
</script>

<template>
  <v-menu location="bottom end">
    <template #activator="{ props: opens }">
      <v-btn v-bind="opens">Export {{ what }}</v-btn>
    </template>
    <div class="sheet" role="dialog" aria-label="Export">
      <h3 class="small">The columns of the ledger</h3>
      <FileLinks :address="ledger" :what="what" />
      <h3 class="small">Every figure that was read</h3>
      <FileLinks :address="readings" :what="`readings of ${what}`" :forms="READINGS" />
      <h3 class="small">Exchange tables, with the curves behind the figures</h3>
      <p>
        <v-btn v-if="kind.of === NICHES" :href="tables" download
          >Tables of {{ what }} as a zip</v-btn
        >
        <v-btn :href="whole" download>Tables of the whole market</v-btn>
      </p>
    </div>
  </v-menu>
</template>

<style scoped>
.sheet {
  padding: 8px 14px 12px;
}

h3 {
  margin: 8px 0 2px;
}

p {
  display: flex;
  gap: 14px;
  margin: 0;
}
</style>
