<script setup lang="ts">
/** Initials of the months, each where its first day lies in a year of 52 weeks. */
const DAYS = [31, 28.25, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
const months = [..."JFMAMJJASOND"].map((initial, i) => ({
  initial,
  left: (DAYS.slice(0, i).reduce((a, b) => a + b, 0) / 365.25) * 100,
}));
</script>

<template>
  <span class="months" role="img" aria-label="January to December">
    <span
      v-for="(month, i) in months"
      :key="i"
      :style="{ left: `${month.left}%` }"
      aria-hidden="true"
      >{{ month.initial }}</span
    >
  </span>
</template>

<style scoped>
.months {
  position: relative;
  display: block;
  height: 14px;
  container-type: inline-size;
}

.months > span {
  position: absolute;
  border-left: 1px solid var(--rule);
  padding-left: 3px;
}

/* Where twelve letters would lie on one another the quarters are enough. */
@container (max-width: 140px) {
  .months > span:not(:nth-child(3n + 1)) {
    font-size: 0;
  }
}
</style>
