<script setup lang="ts">
import EmptyView from "@/ui/EmptyView.vue";

/** What to do while there is no market yet. */
defineEmits<{ retry: [] }>();
</script>

<template>
  <EmptyView
    title="No figures are loaded yet"
    text="Driftfield reads weekly searches from a folder of CSV files, or a zip of them. Only one is required, term_weeks.csv, with one line per term and week: term, week, searches."
    retry
    @retry="$emit('retry')"
  >
    <p><v-btn to="/intake">Upload files here</v-btn>, or load your own from the command line:</p>
    <pre>bin/driftfield import FOLDER</pre>
    <p>or the invented market that comes with it:</p>
    <pre>bin/driftfield import demo/harrow-quay.zip</pre>
  </EmptyView>
</template>
