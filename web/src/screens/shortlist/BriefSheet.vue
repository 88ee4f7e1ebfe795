<script setup lang="ts">
import type { Choice } from "@/api/client";

/** A sheet of paper about one subject: its name, what was decided on it, and what the brief of its kind says below. */
defineProps<{
  subject: {
    name: string;
    decision: Choice | null;
    reason: string;
    note: string;
    tags: string[];
  };
}>();
const SAID = { keep: "Kept", park: "Parked", pass: "Passed", open: "Open" } as const;
</script>

<template>
  <article class="brief" :aria-label="`Brief of ${subject.name}`">
    <header>
      <h1 class="serif">{{ subject.name }}</h1>
      <p class="small"><slot name="under" /></p>
    </header>
    <p v-if="subject.decision || subject.note || subject.tags.length" class="decision">
      <b v-if="subject.decision">{{ SAID[subject.decision] }}.</b> {{ subject.reason }}
      <span v-if="subject.note" class="note">{{ subject.note }}</span>
      <span class="small">{{ subject.tags.join(", ") }}</span>
    </p>
    <slot />
  </article>
</template>

<style scoped>
.brief {
  max-width: 780px;
  margin: 0 auto;
  padding: 22px var(--gutter) 30px;
  break-after: page;
}

h1 {
  font-size: 26px;
  margin: 0;
  overflow-wrap: anywhere;
}

p {
  margin: 0 0 8px;
}

.decision {
  border-left: 2px solid var(--ochre);
  padding-left: 10px;
  white-space: pre-line;
}

.note {
  display: block;
}
</style>
