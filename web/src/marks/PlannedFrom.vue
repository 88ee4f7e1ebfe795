<script setup lang="ts">
import { computed } from "vue";
import { daysBetween, formatDay, today } from "@/format/values";

/** That dates beside it were planned from a day long past; nothing where it is near. */
const props = defineProps<{ day: string | null; brief?: boolean }>();
const OLD = 28;
const now = today();
const from = computed(() => props.day ?? now);
const ago = computed(() => daysBetween(from.value, now));
const weeks = computed(() => Math.floor(ago.value / 7));
</script>

<template>
  <span v-if="ago > OLD" class="small">{{
    brief
      ? `Planned ${weeks} weeks ago.`
      : `These dates are planned from ${formatDay(from)}, ${weeks} weeks ago.`
  }}</span>
</template>
