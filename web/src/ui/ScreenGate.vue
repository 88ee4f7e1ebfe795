<script setup lang="ts">
import { computed } from "vue";
import type { ApiError } from "@/api/client";
import EmptyView from "./EmptyView.vue";

/** What stands in a screen's place while it is not there: waiting, an error and what to do, or that there is nothing. */
const props = withDefaults(
  defineProps<{
    /** What is being waited for has not come; left out where that is not told. */
    pending?: boolean | undefined;
    failure?: ApiError | null | undefined;
    /** Why there is nothing to show, when that is so. */
    empty?: { title: string; text: string } | null | undefined;
  }>(),
  { pending: undefined, failure: undefined, empty: undefined },
);
defineEmits<{ retry: [] }>();

/** A server that is away for a moment takes nothing off the screen: the note one types stays there. */
const shown = computed(() =>
  props.failure?.status === 0 && props.pending === false ? null : props.failure,
);
</script>

<template>
  <EmptyView
    v-if="shown"
    :title="shown.title"
    :text="shown.message"
    retry
    @retry="$emit('retry')"
  />
  <EmptyView v-else-if="empty" :title="empty.title" :text="empty.text"
    ><slot name="empty"
  /></EmptyView>
  <slot v-else-if="!pending" />
  <v-progress-linear v-else class="waiting" indeterminate aria-label="Loading" />
</template>

<style scoped>
.waiting {
  /* What comes at once is not announced. */
  animation: appear 0s 400ms backwards;
}

@keyframes appear {
  from {
    visibility: hidden;
  }
}
</style>
