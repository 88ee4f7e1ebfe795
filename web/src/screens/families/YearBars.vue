<script setup lang="ts">
import { computed } from "vue";
import { formatShare } from "@/format/values";

/** Shares of a family's searches by month; the line is an even month, and what is under half of it is quiet. */
const props = defineProps<{ year: (number | null)[] }>();

const MONTHS = ["J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D"];
const NAMES = ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"]; // prettier-ignore
const EVEN = 1 / 12;
const HEIGHT = 90;
const most = computed(() => Math.max(EVEN, ...props.year.map((share) => share ?? 0)));
const bars = computed(() =>
  props.year.map((share, i) => ({
    letter: MONTHS[i],
    tip: `${NAMES[i]}: ${formatShare(share)} of a year`,
    height: `${((share ?? 0) / most.value) * HEIGHT}px`,
    quiet: (share ?? 0) < EVEN / 2,
  })),
);
</script>

<template>
  <div
    v-if="year.every((share) => share !== null)"
    class="year"
    role="img"
    :aria-label="bars.map((one) => one.tip).join('; ')"
  >
    <span class="even" :style="{ bottom: `${(EVEN / most) * HEIGHT + 18}px` }" />
    <span v-for="(one, i) in bars" :key="i" class="month" :data-tip="one.tip">
      <span class="bar" :class="{ quiet: one.quiet }" :style="{ height: one.height }" />
      <span class="small">{{ one.letter }}</span>
    </span>
  </div>
</template>

<style scoped>
.year {
  position: relative;
  display: flex;
  align-items: flex-end;
  gap: 3px;
  max-width: 420px;
  height: 112px;
}

.even {
  position: absolute;
  left: 0;
  right: 0;
  border-top: 1px dashed var(--ink3);
}

.month {
  flex: 1;
  text-align: center;
}

.bar {
  display: block;
  background: var(--q4);
}

.bar.quiet {
  background: var(--q2);
}

.small {
  display: block;
  height: 18px;
  line-height: 18px;
}
</style>
