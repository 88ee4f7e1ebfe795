<script setup lang="ts">
import { ref, watch } from "vue";
import type { Choice } from "@/api/client";
import { sayCount } from "@/shared/format";
import { CHOICES, type Shape, SHAPES } from "./useFieldState";
import ShapeMark from "@/marks/ShapeMark.vue";

defineProps<{ count: number; total: number }>();
const q = defineModel<string>("q", { required: true });
const shapes = defineModel<Shape[]>("shapes", { required: true });
const decisions = defineModel<Choice[]>("decisions", { required: true });

const DECIDED: Record<Choice, string> = {
  keep: "kept",
  park: "parked",
  pass: "passed",
  open: "undecided",
};

const typed = ref(q.value);
const box = ref<HTMLInputElement | null>(null);
let timer = 0;
watch(q, (text) => {
  if (text !== typed.value.trim()) typed.value = text;
});
watch(typed, (text) => {
  window.clearTimeout(timer);
  timer = window.setTimeout(() => (q.value = text.trim()), 160);
});

const listed = (words: string[]): string =>
  words.length > 1 ? `${words.slice(0, -1).join(", ")} or ${words.at(-1)}` : (words[0] ?? "");

function flip<T>(list: T[], one: T): T[] {
  return list.includes(one) ? list.filter((other) => other !== one) : [...list, one];
}

function clear(): void {
  typed.value = "";
  window.clearTimeout(timer);
  q.value = "";
  shapes.value = [];
  decisions.value = [];
}

defineExpose({ focus: () => box.value?.select() });
</script>

<template>
  <section class="sieve" aria-label="Conditions">
    <p class="sentence serif">
      Niches whose name or terms hold
      <input
        ref="box"
        v-model="typed"
        class="words"
        type="search"
        placeholder="any words"
        aria-label="Words in the niche's name or terms"
        autocomplete="off"
        spellcheck="false"
        @keydown.esc="($event.target as HTMLElement).blur()"
        @keydown.enter="($event.target as HTMLElement).blur()"
      />
      and whose shape is
      <v-menu :close-on-content-click="false">
        <template #activator="{ props }">
          <button v-bind="props" class="clause" :class="{ idle: !shapes.length }">
            {{ listed(shapes) || "any" }}
          </button>
        </template>
        <v-list density="compact" aria-label="Shapes">
          <v-list-item
            v-for="shape in SHAPES"
            :key="shape"
            role="menuitemcheckbox"
            :aria-checked="shapes.includes(shape)"
            @click="shapes = flip(shapes, shape)"
          >
            <span class="option"
              ><span class="tick" aria-hidden="true">{{ shapes.includes(shape) ? "✓" : "" }}</span
              ><ShapeMark :shape="shape" />{{ shape }}</span
            >
          </v-list-item>
        </v-list>
      </v-menu>
      and that are
      <v-menu :close-on-content-click="false">
        <template #activator="{ props }">
          <button v-bind="props" class="clause" :class="{ idle: !decisions.length }">
            {{ listed(decisions.map((d) => DECIDED[d])) || "decided or not" }}
          </button>
        </template>
        <v-list density="compact" aria-label="Decisions">
          <v-list-item
            v-for="choice in CHOICES"
            :key="choice"
            role="menuitemcheckbox"
            :aria-checked="decisions.includes(choice)"
            @click="decisions = flip(decisions, choice)"
          >
            <span class="option"
              ><span class="tick" aria-hidden="true">{{
                decisions.includes(choice) ? "✓" : ""
              }}</span
              >{{ DECIDED[choice] }}</span
            >
          </v-list-item>
        </v-list>
      </v-menu>
    </p>
    <p class="count" role="status">
      <b>{{ sayCount(count) }}</b> of {{ sayCount(total) }} pass
      <button v-if="q || shapes.length || decisions.length" class="word-button" @click="clear">
        Clear the conditions
      </button>
    </p>
  </section>
</template>

<style scoped>
.sieve {
  background: var(--page);
  border-bottom: 1px solid var(--rule);
  padding: 9px var(--gutter) 7px;
}

.sentence {
  font-size: 16px;
  line-height: 1.5;
  margin: 0;
}

.words {
  width: 150px;
  border: 0;
  border-bottom: 1px solid var(--q4);
  background: none;
  padding: 0 2px;
}

.words::placeholder,
.idle {
  color: var(--ink3);
}

.clause {
  background: none;
  border: 0;
  border-bottom: 1px solid var(--q4);
  padding: 0 2px;
  cursor: pointer;
}

.idle {
  border-bottom-style: dashed;
}

.option {
  display: flex;
  align-items: center;
  gap: 8px;
  font: 13px var(--sans);
}

.tick {
  width: 12px;
}

.count {
  margin: 2px 0 0;
  font-size: 12px;
  color: var(--ink2);
}

.count b {
  color: var(--ink);
}

.count .word-button {
  margin-left: 14px;
}
</style>
