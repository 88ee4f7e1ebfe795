<script setup lang="ts">
import StrongText from "@/marks/StrongText.vue";

/** One of the questions: its verdict first, then the picture, then the numbers. */
defineProps<{
  id: string;
  question: string;
  /** Its sentences, once they are there. */
  verdict: string[] | undefined;
  ready: boolean;
}>();
</script>

<template>
  <section :id="id" :aria-labelledby="`${id}-head`" tabindex="-1">
    <h2 :id="`${id}-head`" class="serif">{{ question }}</h2>
    <p v-if="verdict" class="verdict serif">
      <StrongText :text="verdict.join(' ')" />
    </p>
    <p v-if="!ready" class="small wait" role="status">Looking it up …</p>
    <slot />
  </section>
</template>

<style scoped>
section {
  padding: 14px 0 22px;
  border-top: 1px solid var(--ink);
  outline: none;
  scroll-margin-top: 8px;
}

h2 {
  font-size: 20px;
  margin: 0 0 4px;
}

.verdict {
  max-width: 76ch;
  margin: 0 0 12px;
  font-size: 15px;
  line-height: 1.42;
  color: var(--ink2);
}

.wait {
  min-height: 240px;
}

@media print {
  h2,
  .verdict {
    break-after: avoid;
  }
}
</style>
