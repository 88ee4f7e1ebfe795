<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { formatCount, formatShare } from "@/format/values";

/** The values of an attribute: their share of units over their share of listings. */
const props = defineProps<{ attribute: Schemas["AttributeDemand"] }>();
const MOST = 8;
const times = (one: Schemas["ValueDemand"]): string =>
  one.listing_share > 0 ? `${(one.unit_share / one.listing_share).toPrecision(2)}×` : "";
const shown = props.attribute.values.slice(0, MOST);
const most = Math.max(...shown.flatMap((one) => [one.unit_share, one.listing_share]), 0.01);
const width = (share: number): string => `${(share / most) * 100}%`;
</script>

<template>
  <table>
    <caption>
      {{
        attribute.attribute
      }}
    </caption>
    <tbody>
      <tr v-for="one in shown" :key="one.value">
        <th scope="row">{{ one.value }}</th>
        <td
          class="bars"
          :data-tip="`${formatShare(one.unit_share)} of the units, ${formatShare(one.listing_share)} of the listings (${formatCount(one.listings)})`"
        >
          <span class="units" :style="{ width: width(one.unit_share) }"></span>
          <span class="listings" :style="{ width: width(one.listing_share) }"></span>
          <span class="unseen"
            >{{ formatShare(one.unit_share) }} of the units, {{ formatShare(one.listing_share) }} of
            the listings</span
          >
        </td>
        <td class="small" :class="one.says">
          <template v-if="one.says">{{ one.says }} </template>{{ times(one) }}
        </td>
      </tr>
    </tbody>
  </table>
  <p v-if="attribute.values.length > MOST" class="small">
    and {{ formatCount(attribute.values.length - MOST) }} rarer ones
  </p>
</template>

<style scoped>
table {
  width: 100%;
  max-width: 420px;
  border-collapse: collapse;
}

caption {
  padding-top: 6px;
  font: 11px/1.3 var(--condensed);
  color: var(--ink2);
  text-align: left;
}

th {
  width: 34%;
  padding: 1px 8px 1px 0;
  font-weight: 400;
  text-align: left;
  overflow-wrap: anywhere;
}

.bars {
  padding: 2px 0;
}

.bars span:not(.unseen) {
  display: block;
  height: 6px;
}

.units {
  background: var(--q5);
}

.listings {
  border: 1px solid var(--ink3);
}

td.small {
  width: 116px;
  padding-left: 8px;
  white-space: nowrap;
}

.wanted {
  color: var(--q5);
}

.oversupplied {
  color: var(--rust);
}
</style>
