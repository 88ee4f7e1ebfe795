<script setup lang="ts">
/** Links that fetch a list as a file; the browser keeps it where downloads go. */
withDefaults(
  defineProps<{
    /** Address without its form, such as “/api/ledger/file/?c=…”. */
    address: string;
    what: string;
    forms?: { form: string; says: string }[];
  }>(),
  {
    forms: () => [
      { form: "csv", says: "CSV" },
      { form: "xlsx", says: "XLSX" },
      { form: "json", says: "JSON" },
    ],
  },
);
</script>

<template>
  <span class="files">
    Export {{ what }}
    <v-btn
      v-for="{ form, says } in forms"
      :key="form"
      :href="`${address}${address.includes('?') ? '&' : '?'}as=${form}`"
      :aria-label="`Export ${what} as ${says}`"
      download
      >{{ says }}</v-btn
    >
  </span>
</template>

<style scoped>
.files {
  display: inline-flex;
  gap: 8px;
  white-space: nowrap;
}

a {
  text-decoration: none;
}
</style>
