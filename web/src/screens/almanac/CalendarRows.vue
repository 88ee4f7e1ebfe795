<script setup lang="ts">
import { computed, ref } from "vue";
import type { Almanac, AlmanacLine } from "@/api/almanac";
import { addDays } from "@/format/values";
import { axisOf, monthsOf, percent } from "@/screens/parts/calendarAxis";
import CalendarHead from "./CalendarHead.vue";
import { movingFeasts } from "./calendarMarks";
import { groupOf, nextText } from "./nextText";
import { shapesOf } from "./seasonShapes";

/** Fifteen months across, a row a subject; the planning date can be dragged. */
const props = defineProps<{
  almanac: Almanac;
  by: string;
  /** The page of a row. */
  pageOf: (line: AlmanacLine) => { path: string; query: Record<string, string> };
  /** Where an order for a row is planned; none for what no plan is made of. */
  planOf?: ((line: AlmanacLine) => { path: string; query: Record<string, string> }) | undefined;
}>();
const emit = defineEmits<{ on: [day: string] }>();

const axis = computed(() => axisOf(props.almanac.first, props.almanac.last));
const dragged = ref<string>();
const on = computed(() => dragged.value ?? props.almanac.on);
const arrival = computed(() => addDays(on.value, props.almanac.lead_days));
const months = computed(() => monthsOf(axis.value));
const feasts = computed(() => movingFeasts(props.almanac, axis.value, 0));

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
</script>

<template>
  <div class="calendar" tabindex="0" role="region" aria-label="Fifteen months, a row each">
    <div class="sheet">
      <CalendarHead
        v-model:dragged="dragged"
        :almanac="almanac"
        :axis="axis"
        @on="emit('on', $event)"
      />
      <div class="rows">
        <div class="lines" aria-hidden="true">
          <i
            v-for="month in months"
            :key="month.day"
            class="rule"
            :style="{ left: percent(month.at) }"
          />
          <i
            v-for="feast in feasts"
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
      <slot :axis="axis" />
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
  content-visibility: auto; /* Of hundreds only those in sight are laid out. */
  contain-intrinsic-height: 34px;
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
    content-visibility: visible;
  }

  .drawn,
  .lines {
    print-color-adjust: exact;
  }
}
</style>
