<script setup lang="ts">
import { defineAsyncComponent } from "vue";
import type { FigureRow } from "@/api/client";
import type { Column } from "@/screens/parts/ledger/columns";

defineProps<{ usual: Column[]; columns: Column[]; figures: FigureRow[]; changed: boolean }>();
defineEmits<{ toggle: [key: string]; move: [key: string, by: number]; reset: [] }>();

// What sorts rows by hand is loaded when somebody means to.
const ColumnList = defineAsyncComponent(() => import("./ColumnList.vue"));
</script>

<template>
  <v-menu location="bottom end">
    <template #activator="{ props: opens }">
      <v-btn v-bind="opens">Columns</v-btn>
    </template>
    <ColumnList
      v-bind="$props"
      @toggle="$emit('toggle', $event)"
      @move="(key, by) => $emit('move', key, by)"
      @reset="$emit('reset')"
    />
  </v-menu>
</template>
