<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref, watch } from "vue";
import type { ApiError, FigureRow } from "@/api/client";
import { readCondition } from "@/api/ledger";
import { registryQueries } from "@/api/registry";
import SpreadPicker from "./SpreadPicker.vue";
import { comparable, isCondition, type Suggestion, suggest } from "./suggest";

/** One line to type a condition in: figure, comparison and value, from the keyboard alone. */
const props = defineProps<{
  figures: FigureRow[];
  placeholder: string;
  market: string | undefined;
  /** Conditions that hold already, among whose niches a figure's spread is shown. */
  others: string[];
}>();
const emit = defineEmits<{ add: [text: string] }>();

const signals = useQuery(registryQueries.signals());
const text = ref("");
const box = ref<HTMLInputElement | null>(null);
const open = ref(false);
const marked = ref(-1);
const wrong = ref("");

const categories = useQuery(computed(() => registryQueries.categories(props.market)));
const offered = computed(() =>
  suggest(text.value, props.figures, signals.data.value ?? [], categories.data.value ?? []),
);
/** The figure that was named and not yet compared: its spread is offered to draw a range on. */
const named = computed(() => comparable(text.value, props.figures));
watch(text, () => {
  marked.value = -1;
  wrong.value = "";
  open.value = document.activeElement === box.value;
});

async function add(typed: string): Promise<void> {
  const wanted = typed.trim();
  if (!wanted) return;
  const asked = isCondition(wanted, props.figures) ? wanted : `terms hold ${wanted}`;
  // Cleared at once, for quick hands type the next one before this one is read.
  text.value = "";
  open.value = false;
  try {
    const read = await readCondition(asked);
    emit("add", read.text);
    await nextTick();
    box.value?.focus();
  } catch (error) {
    if (!text.value) text.value = wanted;
    await nextTick();
    wrong.value = (error as ApiError).message;
  }
}

function take(one: Suggestion): void {
  if (one.whole) {
    void add(one.text);
    return;
  }
  text.value = one.text;
  void nextTick(() => {
    box.value?.focus();
    open.value = true;
  });
}

function enter(): void {
  const one = offered.value[marked.value];
  if (open.value && one) take(one);
  else void add(text.value);
}

function move(steps: number): void {
  open.value = true;
  const many = offered.value.length;
  if (many)
    marked.value = (marked.value + steps + many + (marked.value < 0 && steps < 0 ? 1 : 0)) % many;
}

/** Tab completes what is being typed while something is offered. */
function complete(event: KeyboardEvent): void {
  const one = offered.value[Math.max(marked.value, 0)];
  if (!open.value || !one || !text.value.trim() || event.shiftKey) return;
  event.preventDefault();
  text.value = one.text;
}

function leave(): void {
  if (open.value && text.value) open.value = false;
  else box.value?.blur();
}

function draw(low: number | null, high: number | null): void {
  if (named.value) void add(`${named.value.typed ?? named.value.key} ${low ?? ""}..${high ?? ""}`);
}

defineExpose({ focus: () => box.value?.select() });
</script>

<template>
  <span class="condition">
    <input
      ref="box"
      v-model="text"
      type="text"
      role="combobox"
      aria-label="A condition, or words to look for"
      aria-autocomplete="list"
      aria-controls="offered"
      :aria-expanded="open && !named && offered.length > 0"
      :aria-activedescendant="marked >= 0 ? `offered-${marked}` : undefined"
      :aria-invalid="wrong !== ''"
      :aria-describedby="wrong ? 'condition-wrong' : undefined"
      :placeholder="placeholder"
      autocomplete="off"
      spellcheck="false"
      @focus="open = true"
      @blur="open = false"
      @keydown.enter.prevent="enter"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.tab="complete"
      @keydown.esc.stop="leave"
    />
    <ul
      v-show="open && !named && offered.length"
      id="offered"
      role="listbox"
      aria-label="What can be asked"
    >
      <li
        v-for="(one, i) in offered"
        :id="`offered-${i}`"
        :key="one.text"
        role="option"
        :aria-selected="i === marked"
        :class="{ marked: i === marked }"
        @mousedown.prevent="take(one)"
      >
        <span>{{ one.label }}</span>
        <span class="small">{{ one.hint }}</span>
      </li>
    </ul>
    <span v-if="open && named" class="drawn" @mousedown.prevent>
      <span class="small">{{ named.label }}: drag across a range, or type a number</span>
      <SpreadPicker
        :market="market"
        :figure="named.key"
        :type="named.type"
        :others="others"
        :low="null"
        :high="null"
        @range="draw"
      />
    </span>
    <span v-if="wrong" id="condition-wrong" class="wrong" role="alert">{{ wrong }}</span>
  </span>
</template>

<style scoped>
.condition {
  position: relative;
  display: inline-block;
}

input {
  width: 250px;
  border: 0;
  border-bottom: 1px solid var(--q4);
  background: none;
  padding: 0 2px;
}

input::placeholder {
  color: var(--ink3);
}

.drawn {
  padding: 8px 12px !important;
}

.drawn,
ul {
  position: absolute;
  z-index: 20;
  top: 100%;
  left: 0;
  min-width: 360px;
  margin: 2px 0 0;
  padding: 4px 0;
  list-style: none;
  background: var(--page);
  border: 1px solid var(--rule);
  border-radius: 2px;
  box-shadow: 0 6px 18px rgb(0 0 0 / 18%);
  font: 13px/1.3 var(--sans);
}

li {
  display: flex;
  justify-content: space-between;
  gap: 18px;
  padding: 4px 10px;
  cursor: pointer;
}

li:hover,
.marked {
  background: var(--ochre-wash);
}

.marked .small {
  color: var(--ink2);
}

.wrong {
  display: block;
  font: 12px/1.35 var(--sans);
  color: var(--rust);
  max-width: 70ch;
}
</style>
