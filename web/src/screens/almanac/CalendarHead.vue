<script setup lang="ts">
import { useElementSize, useEventListener } from "@vueuse/core";
import { computed, ref } from "vue";
import type { Almanac } from "@/api/almanac";
import { addDays, daysBetween, formatDay } from "@/format/values";
import { type Axis, monthsOf, percent } from "@/screens/parts/calendarAxis";
import { movingFeasts } from "./calendarMarks";

/** Months, feasts and the day of ordering, which can be dragged to look from another. */
const props = defineProps<{ almanac: Almanac; axis: Axis }>();
const emit = defineEmits<{ on: [day: string] }>();
/** The day it is dragged over, before it is asked for. */
const dragged = defineModel<string | undefined>("dragged", { required: true });

/** Days before and after the figures end between which something is known of a day of ordering. */
const BACK = 31;
const AHEAD = 731;
const on = computed(() => dragged.value ?? props.almanac.on);
const track = ref<HTMLElement | null>(null);
const { width } = useElementSize(track);
const months = computed(() => monthsOf(props.axis));
const moving = computed(() => movingFeasts(props.almanac, props.axis, width.value));
const holidays = computed(() =>
  props.almanac.feasts
    .filter((one) => !one.moving)
    .map((one) => ({ ...one, at: props.axis.at(one.day) })),
);

function clamp(day: string): string {
  const low = [props.almanac.first, addDays(props.almanac.as_of, -BACK)].sort().at(-1) ?? day;
  const high = [props.almanac.last, addDays(props.almanac.as_of, AHEAD)].sort()[0] ?? day;
  return day < low ? low : day > high ? high : day;
}
function move(event: PointerEvent): void {
  const box = track.value?.getBoundingClientRect();
  if (!box) return;
  const share = (event.clientX - box.left) / box.width;
  const days = daysBetween(props.almanac.first, props.almanac.last) + 1;
  dragged.value = clamp(addDays(props.almanac.first, Math.round(share * days)));
}
function settle(): void {
  if (dragged.value && dragged.value !== props.almanac.on) emit("on", dragged.value);
  dragged.value = undefined;
}
/** Drags the planning date; the arrow keys do the same. */
function grip(start: PointerEvent): void {
  const handle = start.currentTarget as HTMLElement;
  handle.setPointerCapture(start.pointerId);
  const stop = useEventListener(handle, "pointermove", move);
  useEventListener(
    handle,
    ["pointerup", "pointercancel"],
    () => {
      stop();
      settle();
    },
    { once: true },
  );
}
const STEPS: Record<string, number> = {
  ArrowLeft: -1,
  ArrowDown: -1,
  ArrowRight: 1,
  ArrowUp: 1,
  PageDown: -7,
  PageUp: 7,
};
function step(event: KeyboardEvent): void {
  const days = STEPS[event.key];
  if (!days) return;
  event.preventDefault();
  event.stopPropagation();
  emit("on", clamp(addDays(props.almanac.on, days)));
}
</script>

<template>
  <div class="head">
    <span class="corner small"
      >{{ formatDay(almanac.first) }} to {{ formatDay(almanac.last) }}</span
    >
    <div ref="track" class="track">
      <span
        v-for="month in months"
        :key="month.day"
        class="month"
        :style="{ left: percent(month.at) }"
        >{{ month.label }} {{ month.year }}</span
      >
      <span
        v-for="feast in moving"
        :key="feast.days[0]"
        class="feast small"
        :class="{ before: feast.before }"
        :style="{ left: percent(feast.at) }"
        :data-tip="
          feast.names.map((name, i) => `${name}, ${formatDay(feast.days[i] ?? '')}`).join('; ')
        "
        >{{ feast.names.join(" · ") }}</span
      >
      <span
        v-for="one in holidays"
        :key="one.day + one.name"
        class="holiday"
        :style="{ left: percent(one.at) }"
        :data-tip="`${one.name}, ${formatDay(one.day)}`"
      />
      <span
        class="handle small"
        role="slider"
        tabindex="0"
        aria-label="Planning date looked from"
        :aria-valuemin="0"
        :aria-valuemax="daysBetween(almanac.first, almanac.last)"
        :aria-valuenow="daysBetween(almanac.first, on)"
        :aria-valuetext="formatDay(on)"
        :style="{ left: percent(axis.at(on)) }"
        data-tip="Drag to look from another day, or use the arrow keys. Nothing is changed until you plan from it."
        @pointerdown.prevent="grip"
        @keydown="step"
        ><b aria-hidden="true">◂▸</b> ordering {{ formatDay(on) }}</span
      >
    </div>
  </div>
</template>

<style scoped>
.head {
  position: sticky;
  top: 0;
  z-index: 3;
  display: grid;
  grid-template-columns: var(--names) minmax(0, 1fr);
  height: 60px;
  border-bottom: 1px solid var(--rule);
  background: var(--paper);
}

.corner {
  position: sticky;
  left: 0;
  z-index: 2;
  display: flex;
  align-items: flex-end;
  padding: 0 8px 5px var(--gutter);
  background: var(--paper);
}

.track {
  position: relative;
}

.month {
  position: absolute;
  top: 20px;
  height: 40px;
  padding-left: 4px;
  border-left: 1px solid var(--rule);
  font-size: 11px;
  line-height: 16px;
  white-space: nowrap;
}

.feast {
  position: absolute;
  top: 36px;
  z-index: 1;
  padding-left: 4px;
  border-left: 1px dotted var(--ink3);
  line-height: 15px;
  white-space: nowrap;
}

.feast.before {
  transform: translateX(-100%);
  padding: 0 4px 0 0;
  border-right: 1px dotted var(--ink3);
  border-left: 0;
}

.holiday {
  position: absolute;
  bottom: 0;
  width: 6px;
  height: 8px;
  margin-left: -3px;
}

.holiday::after {
  position: absolute;
  bottom: 0;
  left: 2px;
  width: 2px;
  height: 5px;
  background: var(--ink3);
  content: "";
}

.handle {
  position: absolute;
  top: 0;
  z-index: 2;
  height: 20px;
  padding: 0 6px 0 4px;
  border-left: 2px solid var(--ink);
  color: var(--ink);
  line-height: 20px;
  white-space: nowrap;
  cursor: ew-resize;
  touch-action: none;
}
</style>
