<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { formatMoney } from "@/format/money";
import { formatCount, formatShare } from "@/format/values";

/** Listings that lead, with their share of the revenue, or that are new, with how they did. */
defineProps<{ listings: Schemas["LedListing"][]; fresh?: boolean }>();
const did = (worked: boolean | null): string =>
  worked === null ? "not yet judged" : worked ? "worked" : "did not work";
</script>

<template>
  <p v-if="!listings.length" class="small">
    {{
      fresh
        ? "No listing is known to have come within 26 weeks and sold."
        : "No listing with a revenue is known."
    }}
  </p>
  <table v-else>
    <tbody>
      <tr v-for="one in listings" :key="one.id">
        <th scope="row">
          {{ one.title }} <span class="small">{{ one.brand }}</span>
        </th>
        <td class="number">{{ formatMoney(one.price) }}</td>
        <td v-if="fresh" class="number small">{{ formatCount(one.weeks) }} wk</td>
        <td class="number" :class="{ small: fresh }">
          {{ fresh ? did(one.worked) : formatShare(one.share) }}
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped src="./rows.css"></style>
