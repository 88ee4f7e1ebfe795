<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, defineAsyncComponent, nextTick, ref, watch } from "vue";
import type { ApiError, FigureRow, Schemas } from "@/api/client";
import { ledgerQueries } from "@/api/ledger";
import TextField from "@/ui/TextField.vue";
import { useListbox } from "@/ui/useListbox";
import { rangeText } from "./rangeText";
import { useKind } from "@/state/useKind";

const OptionList = defineAsyncComponent(() => import("@/ui/OptionList.vue"));
const SpreadPicker = defineAsyncComponent(() => import("./SpreadPicker.vue"));

type Read = Schemas["ConditionRead"];
type Completion = Schemas["CompletionRow"];

/** One line to type a condition in; the server says how it is read and what can be typed next. */
const props = defineProps<{
  figures: FigureRow[];
  placeholder: string;
  market: string | undefined;
  /** Conditions that hold already, over what passes which a figure's spread is shown. */
  others: string[];
}>();
const emit = defineEmits<{ add: [text: string] }>();
const kind = useKind();

const cache = useQueryClient();
const text = ref("");
const box = ref<InstanceType<typeof TextField> | null>(null);
const focused = ref(false);
const open = ref(false);
const wrong = ref<Pick<Read, "problem" | "offers"> | null>(null);

const reading = useQuery(
  computed(() => ({
    ...ledgerQueries.condition(kind.of, props.market, text.value),
    enabled: focused.value,
    placeholderData: keepPreviousData,
  })),
);
/** What was read of the text as it stands; nothing while that is on its way. */
const read = computed(() =>
  reading.data.value?.text === text.value ? reading.data.value : undefined,
);
const offered = computed(() => (focused.value && reading.data.value?.completions) || []);
/** The figure that was named and not yet compared: its spread is offered to draw a range on. */
const named = computed(() => props.figures.find((one) => one.key === read.value?.figure));
const listed = computed(() => open.value && !named.value && offered.value.length > 0);
const { marked, move, combobox, optionId } = useListbox(
  "offered",
  () => offered.value.length,
  listed,
);
watch(text, () => {
  marked.value = -1;
  wrong.value = null;
  open.value = focused.value;
});

/** Reads a text and adds it; what it cannot be stays, with what is wrong with it. */
async function add(typed: string): Promise<void> {
  const wanted = typed.trim();
  if (!wanted) return;
  // Cleared at once, for quick hands type the next one before this one is read.
  text.value = "";
  open.value = false;
  let problem: Pick<Read, "problem" | "offers">;
  try {
    const found = await cache.fetchQuery(ledgerQueries.condition(kind.of, props.market, wanted));
    if (found.condition) {
      emit("add", found.condition);
      await nextTick();
      box.value?.focus();
      return;
    }
    problem = found;
  } catch (error) {
    problem = { problem: (error as ApiError).message, offers: [] };
  }
  if (!text.value) text.value = wanted;
  await nextTick();
  open.value = false;
  wrong.value = problem;
}

function take(one: Completion): void {
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

/** Keys that need what is offered for the text as it stands wait for that, one after the other. */
let pending = 0;
let turn: Promise<void> = Promise.resolve();
function inTurn(work: (found: Read | undefined) => void): void {
  const typed = text.value;
  pending += 1;
  turn = turn.then(async () => {
    const found = await cache
      .fetchQuery(ledgerQueries.condition(kind.of, props.market, typed))
      .catch(() => undefined);
    // The list below is the one that was asked for by now.
    await nextTick();
    pending -= 1;
    if (text.value === typed) work(found);
  });
}

function enter(): void {
  const marks = open.value && (marked.value >= 0 || pending > 0);
  if (!marks) {
    void add(text.value);
    return;
  }
  inTurn((found) => {
    const one = found?.completions[marked.value];
    if (one) take(one);
    else void add(text.value);
  });
}

function walk(steps: number): void {
  open.value = true;
  if (read.value) move(steps);
  else inTurn(() => move(steps));
}

function setFocused(now: boolean): void {
  focused.value = now;
  open.value = now;
}

/** Tab completes what is being typed, with what is offered for it as it stands. */
function complete(event: KeyboardEvent): void {
  if (!open.value || !text.value.trim() || event.shiftKey) return;
  event.preventDefault();
  inTurn((found) => {
    const one = found?.completions[Math.max(marked.value, 0)];
    if (one) text.value = one.text;
  });
}

/** Closes what is offered for what was typed; with nothing typed, or nothing offered, leaves the field. */
async function leave(): Promise<void> {
  const stay = open.value && text.value !== "";
  open.value = false;
  await nextTick();
  if (!stay) box.value?.blur();
}

function draw(low: number | null, high: number | null): void {
  if (named.value) void add(rangeText(named.value, low, high));
}

defineExpose({
  focus: () => {
    box.value?.focus();
    box.value?.select();
  },
});
</script>

<template>
  <span class="condition">
    <TextField
      ref="box"
      v-model="text"
      v-bind="combobox"
      class="box"
      label="A condition, or words to look for"
      :error="wrong !== null"
      :aria-describedby="wrong ? 'condition-wrong' : read?.sentence ? 'condition-read' : undefined"
      :placeholder="placeholder"
      spellcheck="false"
      @update:focused="setFocused"
      @keydown.enter.prevent="enter"
      @keydown.down.prevent="walk(1)"
      @keydown.up.prevent="walk(-1)"
      @keydown.tab="complete"
      @keydown.esc.stop="leave"
    />
    <v-overlay
      :model-value="listed || (open && (named !== undefined || !!read?.sentence))"
      activator="parent"
      content-class="floating"
      location="bottom start"
      location-strategy="connected"
      scroll-strategy="reposition"
      :open-on-click="false"
      :scrim="false"
      persistent
      no-click-animation
    >
      <p v-if="read?.sentence" id="condition-read" class="read small" aria-live="polite">
        <kbd>Enter</kbd>
        <template v-if="read.search"> searches: {{ read.sentence }}</template>
        <template v-else> adds: {{ read.sentence }}</template>
      </p>
      <OptionList
        v-if="listed"
        id="offered"
        class="offered"
        label="What can be asked"
        :options="offered"
        :marked="marked"
        :option-id="optionId"
        @take="take"
      />
      <div v-else-if="named" class="drawn" @mousedown.prevent>
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
      </div>
    </v-overlay>
    <span v-if="wrong" id="condition-wrong" class="wrong" role="alert">
      {{ wrong.problem }}
      <v-btn v-for="one in wrong.offers" :key="one.text" @click="add(one.text)">
        {{ one.sentence }}
      </v-btn>
    </span>
  </span>
</template>

<style scoped>
.condition {
  display: inline-block;
  vertical-align: top;
}

.box {
  width: 250px;
}

.offered,
.drawn {
  min-width: 360px;
  font: 13px/1.3 var(--sans);
}

.drawn {
  padding: 8px 12px;
  background: var(--page);
}

.read {
  margin: 0;
  padding: 6px 12px;
  background: var(--page);
  border-bottom: 1px solid var(--rule);
}

.wrong .v-btn {
  margin-left: 10px;
}

.wrong {
  display: block;
  font: 12px/1.35 var(--sans);
  color: var(--rust);
  max-width: 70ch;
}
</style>
