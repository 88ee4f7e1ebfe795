<script setup lang="ts">
import type { NichePreview } from "@/api/client";

type Tone = NichePreview["signals"][number]["tone"];
defineProps<{ tone: Tone }>();

/* An opening gap for a chance, a closed gate for a caution, a tick on the line for a note. */
const DRAWN: Record<Tone, string> = {
  chance: "M1 9 L1 2 M11 9 L11 2 M6 8 L6 3 M3.8 5 L6 2.6 L8.2 5",
  caution: "M1 9 L1 2 M11 9 L11 2 M1 4 L11 4 M1 7 L11 7",
  note: "M1 9 L11 9 M6 9 L6 4",
};
const SAID: Record<Tone, string> = { chance: "Chance", caution: "Caution", note: "Note" };
</script>

<template>
  <svg
    class="mark"
    :class="tone"
    width="12"
    height="11"
    viewBox="0 0 12 11"
    role="img"
    :aria-label="SAID[tone]"
  >
    <title>{{ SAID[tone] }}</title>
    <path :d="DRAWN[tone]" />
  </svg>
</template>

<style scoped>
.mark {
  margin-right: 5px;
  vertical-align: -1px;
}

path {
  fill: none;
  stroke: var(--ink2);
  stroke-width: 1.4;
}

.chance path {
  stroke: var(--q5);
}

.caution path {
  stroke: var(--rust);
}
</style>
