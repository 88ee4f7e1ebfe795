<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { CATEGORIES, type Choice, type MarketSummary, TERMS } from "@/api/client";
import { curvesOf } from "@/api/curves";
import type { Category } from "@/api/previews";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import ShapeMark from "@/marks/ShapeMark.vue";
import TwoCurves from "@/screens/parts/TwoCurves.vue";
import NoteField from "@/screens/parts/NoteField.vue";
import { countsOf } from "@/screens/parts/category/counts";
import { useElsewhere } from "@/state/useElsewhere";
import IndexParts from "./IndexParts.vue";
import RangesSection from "./RangesSection.vue";
import SaidSection from "./SaidSection.vue";
import ListsSection from "@/screens/parts/category/ListsSection.vue";
import RowsSection from "@/screens/parts/category/RowsSection.vue";
import SizeSection from "@/screens/parts/category/SizeSection.vue";
import SoldSection from "@/screens/parts/category/SoldSection.vue";

/** One category at a glance, in the order in which one asks: how open, how big, when, who sells, what, and its niches. */
const props = defineProps<{
  category: Category;
  market: MarketSummary;
  /** What the lens is called by which it is open and settled; empty for the settings' own. */
  lens: string;
}>();
const emit = defineEmits<{
  choose: [id: string];
  decide: [choice: Choice];
  condition: [text: string];
  working: [];
  field: [];
}>();
const elsewhere = useElsewhere();
const note = ref<InstanceType<typeof NoteField> | null>(null);
defineExpose({ focus: () => note.value?.focus() });

const figures = computed(() => props.category.figures);
const curves = useQuery(
  computed(() => curvesOf(CATEGORIES, props.market.market_id, props.category.id)),
);
const beside = computed(() =>
  props.category.siblings.filter((one) => one.id !== props.category.id).slice(0, 8),
);
const terms = computed(() => ({
  path: "/terms",
  query: { market: props.market.market_id, c: [props.category.condition], sort: "-searches_52w" },
}));
</script>

<template>
  <article :aria-label="category.name">
    <header>
      <nav aria-label="Where it lies" class="small">
        <template v-for="one in category.above" :key="one.id">
          <button class="link" @click="emit('choose', one.id)">{{ one.name }}</button> ›
        </template>
      </nav>
      <div class="title">
        <h2 class="serif">{{ category.name }}</h2>
        <ShapeMark v-if="figures.shape" :shape="figures.shape" />
        <DecisionMarks
          :decision="category.decision"
          :name="category.name"
          @decide="emit('decide', $event)"
        />
      </div>
      <p class="small">
        {{ countsOf(category) }}
        <v-btn class="small" @click="emit('working')">Working</v-btn>
        <v-btn v-if="elsewhere.several.value" class="small" :to="elsewhere.toRow(category.id)"
          >Other markets</v-btn
        >
      </p>
      <p v-for="one in category.openness" :key="one" class="serif">{{ one }}</p>
      <p v-if="lens" class="small">Both by the lens “{{ lens }}”, not by the settings.</p>
      <IndexParts
        v-if="figures.openness !== null || figures.settledness !== null"
        :category="category"
      />
      <p v-if="beside.length" class="small">
        Beside it:
        <template v-for="(one, i) in beside" :key="one.id"
          ><template v-if="i">, </template
          ><button class="link" @click="emit('choose', one.id)">{{ one.name }}</button></template
        ><template v-if="category.siblings.length > beside.length + 1"> and more</template>. Keys
        <kbd>[</kbd> <kbd>]</kbd>
      </p>
      <p v-if="category.children.length" class="small">
        In it:
        <template v-for="(one, i) in category.children" :key="one.id"
          ><template v-if="i">, </template
          ><button class="link" @click="emit('choose', one.id)">{{ one.name }}</button></template
        >
      </p>
    </header>
    <SizeSection :category="category">
      <TwoCurves
        v-if="curves.data.value"
        :id="category.id"
        :of="CATEGORIES"
        :market="market.market_id"
        :curves="curves.data.value"
      />
      <p v-if="figures.counts_terms">
        <v-btn :to="terms">What buyers type in it</v-btn>
      </p>
    </SizeSection>
    <RangesSection
      :category="category"
      :market="market"
      @condition="emit('condition', $event)"
      @field="emit('field')"
    />
    <ListsSection :category="category" :market="market">
      <RowsSection
        :category="category"
        :market="market"
        :of="TERMS"
        sort="-drift_rate_year"
        :also="['drift Rising']"
        head="Terms that rise without the season"
      />
      <RowsSection
        :category="category"
        :market="market"
        :of="TERMS"
        sort="drift_rate_year"
        :also="['drift Easing']"
        head="Terms that fall without the season"
      />
    </ListsSection>
    <SoldSection :category="category" :market="market" />
    <SaidSection :category="category" :market="market" />
    <section aria-label="Note">
      <h3>Note</h3>
      <NoteField ref="note" :market="market.market_id" :niche="category" />
    </section>
  </article>
</template>

<style scoped>
article {
  padding: 10px var(--gutter) 24px 20px;
}

.title {
  display: flex;
  align-items: center;
  gap: 10px;
}

h2 {
  margin: 0;
  font-size: 22px;
  line-height: 1.2;
  overflow-wrap: anywhere;
}

article :deep(h3) {
  margin: 14px 0 2px;
  padding-top: 6px;
  border-top: 1px solid var(--rule);
  font: 600 14px/1.3 var(--serif);
}

article :deep(p) {
  max-width: 76ch;
  margin: 2px 0 4px;
}

article :deep(p.serif) {
  font-size: 15px;
  line-height: 1.35;
}

p.small > .v-btn {
  margin-left: 10px;
}

.link {
  min-height: 24px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--q5);
  cursor: pointer;
  font: inherit;
  text-decoration: underline;
  text-underline-offset: 2px;
}
</style>
