<script setup lang="ts">
import type { ApiError } from "@/api/client";
import EmptyView from "./EmptyView.vue";

/** What stands in a screen's place while it is not there: waiting, an error and what to do, or that there is nothing. */
defineProps<{
  /** What is being waited for has not come. */
  pending?: boolean;
  failure?: ApiError | null | undefined;
  /** Why there is nothing to show, when that is so. */
  empty?: { title: string; text: string } | null | undefined;
}>();
defineEmits<{ retry: [] }>();
</script>

<template>
  <EmptyView
    v-if="failure"
    :title="failure.title"
    :text="failure.message"
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
