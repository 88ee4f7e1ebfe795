<script setup lang="ts">
import { ref, watch } from "vue";

/** When something was on sale: now, ever, or by a day; the model is “now”, “ever” or the day. */
const when = defineModel<string>({ required: true });
defineProps<{
  label: string;
  asOf: string;
  /** What stands before the day; without it there is none to choose. */
  dayLabel?: string;
}>();

const dayOf = (text: string): string => (/^\d/.test(text) ? text : "");
const day = ref(dayOf(when.value));
watch(when, (text) => (day.value = dayOf(text)));
const TIMES = [
  { key: "now", text: "on sale now" },
  { key: "ever", text: "ever" },
];
</script>

<template>
  <span class="when">
    <v-btn-toggle v-model="when" :aria-label="label">
      <v-btn
        v-for="one in TIMES"
        :key="one.key"
        :value="one.key"
        :aria-pressed="when === one.key"
        >{{ one.text }}</v-btn
      >
    </v-btn-toggle>
    <label v-if="dayLabel">
      {{ dayLabel }}
      <input
        v-model="day"
        type="date"
        :max="asOf"
        :aria-label="`${label}: ${dayLabel} this day`"
        @change="when = day || 'now'"
      />
    </label>
  </span>
</template>

<style scoped>
.when {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
}

input {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--rule);
}
</style>
