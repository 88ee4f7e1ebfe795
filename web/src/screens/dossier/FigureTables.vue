<script setup lang="ts">
import type { FigureRow, NichePreview } from "@/api/client";
import FigureTable from "./FigureTable.vue";

/** Groups of figures side by side. */
defineProps<{ niche: NichePreview; figures: FigureRow[]; groups: string[][] }>();
defineEmits<{ working: [figure: string] }>();
</script>

<template>
  <div class="beside">
    <FigureTable
      v-for="keys in groups"
      :key="keys[0]"
      :niche="niche"
      :figures="figures"
      :keys="keys"
      @working="$emit('working', $event)"
    />
  </div>
</template>
