<script setup lang="ts" generic="T extends { label: string; hint: string }">
/** What a field with suggestions offers; the field keeps the focus. */
defineProps<{
  id: string;
  label: string;
  options: T[];
  marked: number;
  optionId: (place: number) => string;
}>();
defineEmits<{ take: [option: T] }>();
</script>

<template>
  <v-list :id="id" role="listbox" :aria-label="label" tabindex="-1">
    <v-list-item
      v-for="(option, i) in options"
      :id="optionId(i)"
      :key="`${option.label}-${i}`"
      role="option"
      tabindex="-1"
      :aria-selected="i === marked"
      :class="{ marked: i === marked }"
      @mousedown.prevent
      @click="$emit('take', option)"
    >
      <span class="option">
        <span>{{ option.label }}</span>
        <span class="small">{{ option.hint }}</span>
      </span>
    </v-list-item>
  </v-list>
</template>

<style scoped>
.option {
  display: flex;
  justify-content: space-between;
  gap: 18px;
}

.marked .small {
  color: var(--ink2);
}
</style>
