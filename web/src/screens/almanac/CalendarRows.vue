<script setup lang="ts">
import { useElementSize, useEventListener } from "@vueuse/core";
import { computed, ref } from "vue";
import type { Almanac, AlmanacLine } from "@/api/almanac";
import { addDays, daysBetween, formatDay, MONTHS } from "@/format/values";
import { groupOf, nextText } from "./nextText";
import { axisOf, shapesOf } from "./seasonShapes";

/** Fifteen months across, a row a subject; the planning date can be dragged. */
const props = defineProps<{
  almanac: Almanac;
  by: string;
  /** The day that is shown while it is dragged, before it is asked for. */
  pageOf: (line: AlmanacLine) => { path: string; query: Record<string, string> };
  /** Where an order for a row is planned; none for what no plan is made of. */
  planOf?: ((line: AlmanacLine) => { path: string; query: Record<string, string> }) | undefined;
}>();
const emit = defineEmits<{ on: [day: string] }>();

/** Days before and after the figures end between which something is known of a day of ordering. */
const BACK = 31;
const AHEAD = 731;
const axis = computed(() => axisOf(props.almanac.first, props.almanac.last));
const dragged = ref<string>();
const on = computed(() => dragged.value ?? props.almanac.on);
const percent = (share: number): string => `${(share * 100).toFixed(3)}%`;
const arrival = computed(() => addDays(on.value, props.almanac.lead_days));

const months = computed(() => {
  const found = [];
  for (let day = props.almanac.first; day <= props.almanac.last; day = nextMonth(day)) {
    const month = Number(day.slice(5, 7));
    const year = month === 1 || day === props.almanac.first ? ` ${day.slice(0, 4)}` : "";
    found.push({ day, label: `${MONTHS[month - 1] ?? ""}${year}`, at: axis.value.at(day) });
  }
  return found;
});
function nextMonth(day: string): string {
  return `${addDays(`${day.slice(0, 7)}-28`, 4).slice(0, 7)}-01`;
}

/** Feasts so near one another share a label; a letter of it takes about so many pixels. */
const NEAR = 0.03;
const LETTER = 5.6;
const track = ref<HTMLElement | null>(null);
const { width } = useElementSize(track);
const moving = computed(() => {
  const found: { names: string[]; days: string[]; at: number; before: boolean }[] = [];
  for (const feast of props.almanac.feasts.filter((one) => one.moving)) {
    const at = axis.value.at(feast.day);
    const last = found.at(-1);
    if (last && at - last.at < NEAR) {
      last.names.push(feast.name);
      last.days.push(feast.day);
    } else found.push({ names: [feast.name], days: [feast.day], at, before: false });
  }
  // A label stands before its line where it would reach the next one or run out of the window.
  found.forEach((one, i) => {
    const long = (one.names.join(" · ").length * LETTER) / (width.value || 1000);
    one.before = one.at + long > (found[i + 1]?.at ?? 1);
  });
  return found;
});
const holidays = computed(() =>
  props.almanac.feasts
    .filter((one) => !one.moving)
    .map((one) => ({ ...one, at: axis.value.at(one.day) })),
);

const rows = computed(() => {
  let before = "";
  return props.almanac.rows.map((line) => {
    const group = groupOf(line, props.by);
    const heading = group !== before ? group : "";
    before = group;
    return {
      line,
      heading,
      text: nextText(line),
      shapes: shapesOf(line, axis.value, props.almanac.on),
    };
  });
});

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
  <div class="calendar" tabindex="0" role="region" aria-label="Fifteen months, a row each">
    <div class="sheet">
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
            >{{ month.label }}</span
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
      <div class="rows">
        <div class="lines" aria-hidden="true">
          <i
            v-for="month in months"
            :key="month.day"
            class="rule"
            :style="{ left: percent(month.at) }"
          />
          <i
            v-for="feast in moving"
            :key="feast.days[0]"
            class="dotted"
            :style="{ left: percent(feast.at) }"
          />
          <i class="planning" :style="{ left: percent(axis.at(on)) }" />
          <i
            v-if="axis.at(arrival) < 1"
            class="arrival"
            :style="{ left: percent(axis.at(arrival)) }"
          />
        </div>
        <ul>
          <template v-for="{ line, heading, text, shapes } in rows" :key="line.id">
            <li v-if="heading" class="heading small">{{ heading }}</li>
            <li class="row">
              <div class="name">
                <RouterLink class="serif" :to="pageOf(line)" :data-tip="`${line.name}: ${text}`">{{
                  line.name
                }}</RouterLink>
                <span class="small text">{{ text }}</span>
                <RouterLink
                  v-if="planOf"
                  class="small order"
                  :to="planOf(line)"
                  :aria-label="`Plan an order of ${line.name}`"
                  >plan</RouterLink
                >
              </div>
              <div class="drawn" aria-hidden="true">
                <svg viewBox="0 0 1 1" preserveAspectRatio="none">
                  <path v-if="shapes.year" class="year" :d="shapes.year" />
                  <path v-for="(d, i) in shapes.seasons" :key="`s${i}`" class="season" :d="d" />
                  <path v-for="(d, i) in shapes.peaks" :key="`p${i}`" class="peak" :d="d" />
                </svg>
                <template v-for="(order, i) in shapes.orders" :key="i">
                  <i
                    class="window"
                    :style="{
                      left: percent(order.from),
                      width: percent(Math.max(0, order.until - order.from)),
                    }"
                  />
                  <i
                    v-if="order.by !== undefined && order.by >= 0"
                    class="by"
                    :style="{ left: percent(order.by) }"
                  />
                  <i
                    v-if="order.by !== undefined"
                    class="way"
                    :style="{
                      left: percent(Math.max(0, order.by)),
                      width: percent(Math.max(0, order.rise - Math.max(0, order.by))),
                    }"
                  />
                </template>
              </div>
            </li>
          </template>
        </ul>
      </div>
    </div>
  </div>
</template>

<style scoped>
.calendar {
  flex: 1 1 0;
  min-height: 0;
  overflow: auto;
  scrollbar-width: thin;
  --names: 238px;
}

.sheet {
  position: relative;
  min-width: 980px;
  padding-right: var(--gutter);
}

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

.rows {
  position: relative;
}

.lines {
  position: absolute;
  inset: 0 0 0 var(--names);
  pointer-events: none;
}

.lines i {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 0;
  border-left: 1px solid var(--rule);
}

.lines .dotted {
  border-left: 1px dotted var(--ink3);
  opacity: 0.5;
}

.lines .planning {
  border-left: 2px solid var(--ink);
}

.lines .arrival {
  border-left: 1px dashed var(--ochre);
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

.heading {
  position: sticky;
  left: 0;
  width: max-content;
  padding: 9px 8px 2px var(--gutter);
  font-weight: 600;
}

.row {
  display: grid;
  grid-template-columns: var(--names) minmax(0, 1fr);
  height: 34px;
  border-bottom: 1px solid var(--rule);
}

.name {
  position: sticky;
  left: 0;
  z-index: 1;
  display: grid;
  grid-template: 17px 14px / minmax(0, 1fr) auto;
  align-content: center;
  padding: 0 8px 0 var(--gutter);
  background: var(--paper);
}

.name .serif,
.text {
  overflow: hidden;
  color: inherit;
  text-decoration: none;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.name .serif {
  font-size: 14px;
  line-height: 17px;
}

.text {
  grid-row: 2;
  line-height: 14px;
}

/* Fingers need 24 pixels (WCAG 2.2, 2.5.8). */
.order {
  grid-row: 1 / 3;
  grid-column: 2;
  align-self: center;
  min-width: 24px;
  padding-left: 6px;
  line-height: 28px;
}

.name .serif:hover {
  text-decoration: underline;
}

.drawn {
  position: relative;
}

svg {
  position: absolute;
  bottom: 0;
  width: 100%;
  height: 28px;
}

.year {
  fill: var(--q1);
}

.season {
  fill: var(--q3);
}

.peak {
  fill: var(--q5);
}

.drawn i {
  position: absolute;
}

/* Hatched, so that it is told from the seasons without its colour. */
.window {
  top: 5px;
  height: 9px;
  border: 1px solid var(--ochre);
  background: repeating-linear-gradient(135deg, var(--ochre) 0 1px, var(--ochre-wash) 1px 4px);
}

.by {
  top: 1px;
  width: 3px;
  height: 17px;
  margin-left: -3px;
  background: var(--ochre);
}

.way {
  top: 17px;
  border-top: 1px dashed var(--ochre);
}

@media (max-width: 760px) {
  .calendar {
    --names: 140px;
  }
}

/* Where the page scrolls the months stay in sight over their rows all the same. */
@media (max-height: 540px), (max-width: 760px) {
  .calendar {
    flex: none;
    height: min(70vh, 480px);
    min-height: 240px;
  }
}

@media print {
  .calendar {
    overflow: visible;
  }

  .row {
    break-inside: avoid;
  }

  .drawn,
  .lines {
    print-color-adjust: exact;
  }
}
</style>
