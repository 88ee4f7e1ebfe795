<script setup lang="ts">
import { computed } from "vue";
import { formatCount } from "@/format/values";

/** Steps through a list that comes a page at a time; nothing where one page holds it. The model is the first row. */
const props = defineProps<{ total: number; atOnce: number }>();
const first = defineModel<number>({ required: true });
const last = computed(() => Math.min(first.value + props.atOnce, props.total));
</script>

<template>
  <p v-if="total > atOnce" class="steps">
    <v-btn :disabled="!first" @click="first = Math.max(0, first - atOnce)">← before</v-btn>
    <span class="small"
      >{{ formatCount(first + 1) }} to {{ formatCount(last) }} of {{ formatCount(total) }}</span
    >
    <v-btn :disabled="last >= total" @click="first += atOnce">next →</v-btn>
  </p>
</template>

<style scoped>
.steps {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 10px;
  margin: 6px 0;
}
</style>
