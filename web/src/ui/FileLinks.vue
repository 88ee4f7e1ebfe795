<script setup lang="ts">
/** Links that fetch a list as a file; the browser keeps it where downloads go. */
withDefaults(
  defineProps<{
    /** Address without its form, such as “/api/ledger/file/?c=…”. */
    address: string;
    what: string;
    forms?: { form: string; label: string }[];
  }>(),
  {
    forms: () => [
      { form: "csv", label: "CSV" },
      { form: "xlsx", label: "XLSX" },
      { form: "json", label: "JSON" },
    ],
  },
);
</script>

<template>
  <span class="files">
    Export {{ what }}
    <v-btn
      v-for="{ form, label } in forms"
      :key="form"
      :href="`${address}${address.includes('?') ? '&' : '?'}as=${form}`"
      :aria-label="`Export ${what} as ${label}`"
      download
      >{{ label }}</v-btn
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
