<script setup lang="ts">
import type { OwnComparison, OwnRow } from "@/api/ownPart";
import { formatCount } from "@/format/values";
import ChangeText from "@/marks/ChangeText.vue";

/** The cells of a row that split one’s own growth: then, now, or what stands between, and the parts that multiply to it. */
defineProps<{ one: OwnComparison | OwnRow }>();
</script>

<template>
  <td class="number">{{ formatCount(one.own_then) }}</td>
  <td class="number">{{ formatCount(one.own_now) }}</td>
  <slot />
  <td class="number"><ChangeText :value="one.own" :low="one.own_low" :high="one.own_high" /></td>
  <td class="number"><ChangeText :value="one.season" /></td>
  <td class="number">
    <ChangeText :value="one.market" :low="one.market_low" :high="one.market_high" marked />
  </td>
  <td class="number">
    <ChangeText :value="one.share" :low="one.share_low" :high="one.share_high" marked />
  </td>
</template>
