<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, defineAsyncComponent, nextTick, ref, watch } from "vue";
import type { ApiError, FigureRow } from "@/api/client";
import { readCondition } from "@/api/ledger";
import { registryQueries } from "@/api/registry";
import TextField from "@/ui/TextField.vue";
import { useListbox } from "@/ui/useListbox";
import { comparable, isCondition, type Suggestion, suggest } from "./suggest";

const OptionList = defineAsyncComponent(() => import("@/ui/OptionList.vue"));
const SpreadPicker = defineAsyncComponent(() => import("./SpreadPicker.vue"));

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
const box = ref<InstanceType<typeof TextField> | null>(null);
const focused = ref(false);
const open = ref(false);
const wrong = ref("");

const categories = useQuery(computed(() => registryQueries.categories(props.market)));
const offered = computed(() =>
  suggest(text.value, props.figures, signals.data.value ?? [], categories.data.value ?? []),
);
/** The figure that was named and not yet compared: its spread is offered to draw a range on. */
const named = computed(() => comparable(text.value, props.figures));
const listed = computed(() => open.value && !named.value && offered.value.length > 0);
const { marked, move, combobox, optionId } = useListbox(
  "offered",
  () => offered.value.length,
  listed,
);
watch(text, () => {
  marked.value = -1;
  wrong.value = "";
  open.value = focused.value;
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

function walk(steps: number): void {
  open.value = true;
  move(steps);
}

function setFocused(now: boolean): void {
  focused.value = now;
  open.value = now;
}

/** Tab completes what is being typed while something is offered. */
function complete(event: KeyboardEvent): void {
  const one = offered.value[Math.max(marked.value, 0)];
  if (!open.value || !one || !text.value.trim() || event.shiftKey) return;
  event.preventDefault();
  text.value = one.text;
}

/** Closes what is offered for what was typed; with nothing typed, or nothing offered, leaves the field. */
async function leave(): Promise<void> {
  const stay = open.value && text.value !== "";
  open.value = false;
  await nextTick();
  if (!stay) box.value?.blur();
}

function draw(low: number | null, high: number | null): void {
  if (named.value)
    void add(`${named.value.condition_name ?? named.value.key} ${low ?? ""}..${high ?? ""}`);
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
      :error="wrong !== ''"
      :aria-describedby="wrong ? 'condition-wrong' : undefined"
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
      :model-value="listed || (open && named !== undefined)"
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
    <span v-if="wrong" id="condition-wrong" class="wrong" role="alert">{{ wrong }}</span>
  </span>
</template>

<style scoped>
.condition {
  display: inline-block;
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

.wrong {
  display: block;
  font: 12px/1.35 var(--sans);
  color: var(--rust);
  max-width: 70ch;
}
</style>
