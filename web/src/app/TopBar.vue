<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from "vue";
import { type LocationQuery, useRoute, useRouter } from "vue-router";
import { type Kind, LISTINGS, NICHES } from "@/api/client";
import { daysBetween, formatDay, today } from "@/format/values";
import { useAway } from "@/state/useChanges";
import { KINDS } from "@/state/useKind";
import { useMarket } from "@/state/useMarket";
import type { Light } from "@/state/useDayNight";

const away = useAway();
const PlanningForm = defineAsyncComponent(() => import("./PlanningForm.vue"));
const MarketList = defineAsyncComponent(() => import("./MarketList.vue"));

defineProps<{ light: Light }>();
defineEmits<{ toggle: []; keys: [] }>();

const route = useRoute();
const router = useRouter();
const {
  markets: { data: markets },
  market,
} = useMarket();

const inMarket = computed(() => (market.value ? { market: market.value.market_id } : {}));

/** What stands under Rivals besides the ledger of listings. */
const RIVALS = new Set([
  ...[KINDS.listings, KINDS.brands, KINDS.sellers].flatMap(({ home, page }) => [home, page]),
  "/rivals/together",
  "/rivals/own",
]);

/** A ledger is come back to as it was left, in the market one is in. */
const left = ref<Record<string, LocationQuery>>({});
watch(
  () => [route.path, route.query] as const,
  ([path, query]) => (left.value = { ...left.value, [path]: query }),
  { immediate: true },
);
/** What is skimmed, by the ledger that it belongs to. */
const skimmed = computed(() => {
  const of = (route.query["of"] ?? NICHES) as Kind;
  return KINDS[of]?.curve === "units" ? LISTINGS : of;
});
const ledgers = computed(() =>
  [
    { name: "Field", ...KINDS.niches },
    { name: "Terms", ...KINDS.terms },
    { name: "Catalogue", ...KINDS.categories },
    { name: "Rivals", ...KINDS.listings },
  ].map(({ name, of, home }) => {
    const before = left.value[home] ?? {};
    const same = (before["market"] ?? inMarket.value.market) === inMarket.value.market;
    const within =
      (route.path === "/skim" && skimmed.value === of) ||
      (route.path === "/dossier" && of === NICHES) ||
      (of === LISTINGS && RIVALS.has(route.path));
    return {
      name,
      within,
      to: { path: home, query: { ...(same ? before : {}), ...inMarket.value } },
    };
  }),
);

/** The almanac is come back to as it was left; at first it shows what is kept. */
const almanac = computed(() => {
  const before = left.value["/almanac"];
  const same = before && (before["market"] ?? inMarket.value.market) === inMarket.value.market;
  return {
    path: "/almanac",
    query: { ...(same ? before : { c: ["decided keep"] }), ...inMarket.value },
  };
});

/** What the figures of this screen were made from. */
const known = computed(() => {
  const niche = route.path === "/dossier" ? route.query["niche"] : undefined;
  return { path: "/coverage", query: { ...inMarket.value, ...(niche ? { niche } : {}) } };
});

/** Days by which the figures end before today or before the planning date, whichever is later. */
const age = computed(() => {
  const { as_of, planning_date } = market.value ?? { as_of: today(), planning_date: today() };
  const until = planning_date > today() ? planning_date : today();
  return daysBetween(as_of, until);
});
const STALE = 28;
const planning = ref(false);

function choose(id: string): void {
  void router.push({ path: route.path, query: { market: id, of: route.query["of"] } });
}
</script>

<template>
  <header class="bar">
    <RouterLink class="name serif" to="/">Driftfield</RouterLink>
    <nav aria-label="Screens">
      <RouterLink
        v-for="{ name, within, to } in ledgers"
        :key="name"
        class="screen"
        :class="{ within }"
        :to="to"
        >{{ name }}</RouterLink
      >
      <RouterLink
        class="screen"
        :class="{ within: route.path === '/orders' || route.path === '/plan' }"
        :to="almanac"
        >Almanac</RouterLink
      >
      <RouterLink class="screen" :to="{ path: '/watch', query: inMarket }">Watch</RouterLink>
      <RouterLink class="screen" :to="{ path: '/shortlist', query: inMarket }"
        >Shortlist</RouterLink
      >
      <RouterLink class="screen" :to="{ path: '/intake', query: inMarket }">Intake</RouterLink>
      <RouterLink class="screen" :to="{ path: '/settings', query: inMarket }">Settings</RouterLink>
    </nav>
    <div class="state">
      <span
        v-if="away"
        class="stale"
        role="status"
        data-tip="The server may have been stopped. Start it with bin/demo. Notes are kept in this browser meanwhile; decisions are not."
        >Driftfield does not answer</span
      >
      <template v-if="market">
        <v-menu v-if="markets && markets.length > 1">
          <template #activator="{ props }">
            <v-btn variant="plain" class="market" v-bind="props" aria-label="Choose the market">
              {{ market.name }} · {{ market.currency }} <span aria-hidden="true">▾</span>
            </v-btn>
          </template>
          <MarketList :markets="markets" :market="market" @choose="choose" />
        </v-menu>
        <span v-else>{{ market.name }} {{ market.currency }}</span>
        <RouterLink
          class="as-of"
          :to="known"
          :data-tip="`${market.note || 'End of the last complete period in the data.'} Opens the data coverage.`"
        >
          as of <b>{{ formatDay(market.as_of) }}</b>
        </RouterLink>
        <v-menu v-model="planning" location="bottom end">
          <template #activator="{ props }">
            <v-btn
              variant="plain"
              class="planned"
              v-bind="props"
              data-tip="Goods ordered on the planning date are on sale after the lead time. Click to change either."
            >
              <span class="unseen">Change when to order:</span>
              <span v-if="age > STALE" class="stale"
                ><span class="long longer">figures </span>{{ Math.floor(age / 7) }} weeks old</span
              >
              <template v-if="market.planning_date !== market.as_of">
                <span class="long">order </span><b>{{ formatDay(market.planning_date) }}</b
                ><span class="long">{{ " " }}</span>
              </template>
              <span class="long" :class="{ longer: market.planning_date !== market.as_of }"
                >arrival <b>{{ formatDay(market.arrival) }}</b><span class="longer"
                  >{{ " " }}{{ market.lead_days }} d</span
                ></span
              >
              <span v-if="age <= STALE" class="short">dates </span>
              <span class="arrow" aria-hidden="true">▾</span>
            </v-btn>
          </template>
          <PlanningForm v-if="planning" :market="market" @done="planning = false" />
        </v-menu>
      </template>
      <v-btn variant="plain" class="plain" @click="$emit('toggle')">
        {{ light === "day" ? "Night" : "Day" }}
      </v-btn>
      <v-btn variant="plain" class="plain" aria-label="Show the keys" @click="$emit('keys')"
        ><kbd>?</kbd></v-btn
      >
    </div>
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: baseline;
  gap: 26px;
  height: 48px;
  box-sizing: border-box;
  padding: 11px var(--gutter) 0;
  border-bottom: 1px solid var(--ink);
  background: var(--paper);
  white-space: nowrap;
}

.name {
  font-size: 20px;
  font-weight: 600;
  color: var(--ink);
  text-decoration: none;
}

.screen {
  color: var(--ink2);
  text-decoration: none;
  padding-bottom: 8px;
}

.screen.router-link-active,
.screen.within {
  color: var(--ink);
  border-bottom: 2px solid var(--ochre);
}

.state {
  margin-left: auto;
  display: flex;
  align-items: baseline;
  gap: 18px;
  font-size: 12px;
  color: var(--ink2);
  min-width: 0;
  overflow: hidden;
}

.state b {
  color: var(--ink);
  font-weight: 600;
}

.as-of {
  color: inherit;
  text-decoration: none;
}

.as-of:hover {
  text-decoration: underline;
}

.short {
  display: none;
}

.arrow {
  margin-left: 4px;
}

.stale {
  color: var(--rust);
  margin-right: 12px;
}

.state > * {
  flex: none;
}

.market,
.planned,
.plain {
  background: none;
  border: 0;
  padding: 2px;
  cursor: pointer;
}

.bar nav {
  display: flex;
  gap: 20px;
}

@media print {
  .bar {
    display: none;
  }
}

@media (max-width: 1360px) {
  .bar {
    gap: 20px;
  }

  .bar nav {
    gap: 15px;
  }

  .state {
    gap: 13px;
  }

  .stale {
    margin-right: 8px;
  }

  .state .longer {
    display: none;
  }
}

@media (max-width: 1000px) {
  .bar {
    gap: 18px;
  }

  .state {
    gap: 12px;
  }

  .state .long {
    display: none;
  }

  .state .short {
    display: inline;
  }
}

/* In a narrow window the bar takes two lines: what it says of the figures must not give way to its buttons. */
@media (max-width: 800px) {
  .bar {
    flex-wrap: wrap;
    height: auto;
    gap: 2px 20px;
  }

  .state {
    width: 100%;
    flex-wrap: wrap;
    margin: 0;
    gap: 0 14px;
    padding-bottom: 4px;
  }

  .state > .plain:nth-last-child(2) {
    margin-left: auto;
  }

  /* Fingers need 24 pixels (WCAG 2.2, 2.5.8). */
  .state > * {
    min-height: 26px;
    line-height: 26px;
  }

  .bar nav {
    flex-wrap: wrap;
    gap: 0 20px;
  }

  .bar nav .screen {
    line-height: 24px;
  }
}
</style>
