<script setup lang="ts">
import { computed, ref } from "vue";
import type { FigureRow, NichePreview } from "@/api/client";
import { sayCount, sayDay, sayPrice, sayShare, UNKNOWN } from "@/shared/format";
import ClickLadder from "./ClickLadder.vue";
import FigureTable from "./FigureTable.vue";
import { brandRungs, type Listing, listingRungs } from "./ladder";

const props = defineProps<{ niche: NichePreview; figures: FigureRow[]; listings: Listing[] }>();
defineEmits<{ working: [figure: string] }>();

const KEYS = [
  "competition_parts.hhi_listings", "competition_parts.effective_listings",
  "competition_parts.click_breadth", "competition_parts.top3_share", "competition_parts.top_brand_share",
  "competition_parts.accounted", "review_barrier", "barriers.few_reviews", "barriers.rating",
]; // prettier-ignore
const NEW = [
  "entry.launches_26w", "entry.launches_52w", "entry.judged", "entry.successes", "entry.success_rate",
  "entry.bar", "entry.units_per_review", "entry.winners_price", "entry.winners_mark",
  "pressure.price_change", "pressure.offers_lead",
]; // prettier-ignore

interface Head {
  key: keyof Listing;
  head: string;
  say: (one: Listing) => string;
}
const attributes = (one: Listing): string => Object.values(one.attributes).join(", ");
const HEADS: Head[] = [
  { key: "click_share", head: "clicks", say: (one) => sayShare(one.click_share) },
  { key: "price", head: "price", say: (one) => sayPrice(one.price) },
  { key: "rating", head: "rating", say: (one) => one.rating?.toFixed(1) ?? UNKNOWN },
  { key: "reviews", head: "reviews", say: (one) => sayCount(one.reviews) },
  { key: "quality", head: "page", say: (one) => sayCount(one.quality) },
  { key: "weight_g", head: "weight, g", say: (one) => sayCount(one.weight_g) },
  { key: "return_rate", head: "returns", say: (one) => sayShare(one.return_rate) },
  { key: "launched_on", head: "launched", say: (one) => (one.launched_on ? sayDay(one.launched_on) : UNKNOWN) },
  { key: "brand", head: "brand", say: (one) => one.brand ?? UNKNOWN },
]; // prettier-ignore

const by = ref<{ key: keyof Listing; down: boolean }>({ key: "click_share", down: true });
function sortBy(key: keyof Listing): void {
  by.value = { key, down: by.value.key === key ? !by.value.down : true };
}
/** Unknown comes last either way. */
const rows = computed(() => {
  const { key, down } = by.value;
  return [...props.listings].sort((a, b) => {
    const [x, y] = [a[key], b[key]];
    if (x === null || x === undefined) return 1;
    if (y === null || y === undefined) return -1;
    const order = typeof x === "string" ? x.localeCompare(String(y)) : Number(x) - Number(y);
    return down ? -order : order;
  });
});
</script>

<template>
  <template v-if="listings.length">
    <div class="ladders">
      <ClickLadder :rungs="listingRungs(listings).slice(0, 12)" caption="Listings" />
      <ClickLadder :rungs="brandRungs(listings).slice(0, 12)" caption="Brands of these listings" />
    </div>
    <div class="wide">
      <table class="listings">
        <caption class="small">
          The
          {{
            listings.length
          }}
          most clicked listings
        </caption>
        <thead>
          <tr>
            <th scope="col">listing</th>
            <th
              v-for="head in HEADS"
              :key="head.key"
              scope="col"
              :aria-sort="by.key === head.key ? (by.down ? 'descending' : 'ascending') : undefined"
            >
              <button class="sort" @click="sortBy(head.key)">
                {{ head.head
                }}<span v-if="by.key === head.key" aria-hidden="true">{{
                  by.down ? " ↓" : " ↑"
                }}</span>
              </button>
            </th>
            <th scope="col">attributes</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in rows" :key="one.listing_id">
            <th scope="row" :title="one.title">
              {{ one.title }}<span v-if="one.sponsored" class="small"> sponsored</span>
            </th>
            <td v-for="head in HEADS" :key="head.key">{{ head.say(one) }}</td>
            <td>{{ attributes(one) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </template>
  <div class="numbers">
    <FigureTable
      :niche="niche"
      :figures="figures"
      :keys="KEYS"
      @working="$emit('working', $event)"
    />
    <FigureTable
      :niche="niche"
      :figures="figures"
      :keys="NEW"
      @working="$emit('working', $event)"
    />
  </div>
</template>

<style scoped>
.ladders {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 34px;
  margin-bottom: 16px;
}

.wide {
  overflow-x: auto;
}

.listings {
  width: 100%;
  min-width: 900px;
  border-collapse: collapse;
  margin-bottom: 14px;
}

caption {
  text-align: left;
}

th,
td {
  text-align: left;
  font-weight: 400;
  padding: 3px 12px 3px 0;
  border-bottom: 1px solid var(--rule);
}

.listings th[scope="row"] {
  max-width: 240px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

thead th,
.sort {
  font: 11px var(--condensed);
  color: var(--ink2);
}

.sort {
  background: none;
  border: 0;
  padding: 6px 0;
  cursor: pointer;
  white-space: nowrap;
}

.numbers {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 50px;
}

@media (max-width: 820px) {
  .ladders {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
