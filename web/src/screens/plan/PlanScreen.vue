<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { watchDebounced } from "@vueuse/core";
import { computed, defineAsyncComponent, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { ApiError } from "@/api/client";
import { orderQueries } from "@/api/orders";
import {
  keepPlan,
  type KeptPlan,
  type MadePlan,
  planQueries,
  PLANS,
  type PlanDocument,
  undoPlan,
} from "@/api/plans";
import { formatMoney } from "@/format/money";
import { formatCount, formatDay } from "@/format/values";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useMarket } from "@/state/useMarket";
import { useNotice } from "@/state/useNotice";
import { usePreview } from "@/state/usePreview";
import { useTabTitle } from "@/state/useTabTitle";
import EmptyView from "@/ui/EmptyView.vue";
import FileLinks from "@/ui/FileLinks.vue";
import MovesBars from "./MovesBars.vue";
import PlanFacts from "./PlanFacts.vue";
import PlanForm from "./PlanForm.vue";
import PlansBeside from "./PlansBeside.vue";
import UnitBars from "./UnitBars.vue";

/** A plan of an order for a niche: how many, by when, what is left of each, and the cash week by week. */
const NewcomersChart = defineAsyncComponent(() => import("@/charts/NewcomersChart.vue"));
const QuantityChart = defineAsyncComponent(() => import("@/charts/QuantityChart.vue"));
const CashChart = defineAsyncComponent(() => import("@/charts/CashChart.vue"));

/** As after another market was chosen, which has niches of its own. */
const NO_NICHE = {
  title: "No niche is chosen",
  text: "Choose one on the almanac or in the Field; its dossier leads to a plan of an order.",
};
type PlanState = KeptPlan["state"];
const WAIT = 350; // Milliseconds after the last key until a plan is made anew.
const cache = useQueryClient();
const route = useRoute();
const router = useRouter();
const { market } = useMarket();
const { notify } = useNotice();
const niche = computed(() => {
  const named = route.query["niche"];
  return typeof named === "string" ? named : "";
});
const key = computed(() => {
  const named = route.query["plan"];
  return typeof named === "string" ? named : undefined;
});
const preview = usePreview(() => market.value?.market_id, niche);
const named = computed(() => preview.data.value?.name ?? niche.value);
useTabTitle(computed(() => `Plan for ${named.value}`));

const kept = useQuery(
  computed(() => ({
    ...planQueries.kept(market.value?.market_id ?? "", niche.value),
    enabled: Boolean(market.value && niche.value),
    retry: false,
  })),
);
const plans = computed(() => kept.data.value?.plans ?? []);
const open = computed(() => plans.value.find((one) => one.key === key.value));

/** What is on screen: a kept plan as it was, or changed; null until it is known what a first one starts with. */
const document = ref<PlanDocument | null>(null);
/** The same as it is asked for: a moment after the last key, but at once where another plan comes up. */
const asked = ref<PlanDocument | null>(null);
const changed = ref(false);
watch(
  [niche, key, open],
  ([now, which, found], [before, whichBefore]) => {
    if (now !== before || which !== whichBefore) changed.value = false;
    if (changed.value) return;
    document.value = found ? (found.document as PlanDocument) : null;
    asked.value = document.value;
  },
  { immediate: true },
);
watchDebounced(document, (now) => (asked.value = now), { debounce: WAIT });
const made = useQuery(
  computed(() => ({
    ...planQueries.made(market.value?.market_id ?? "", niche.value, asked.value),
    enabled: Boolean(market.value && niche.value && !kept.isPending.value),
    // While it is made anew the plan before stays, unless it is another niche's.
    placeholderData: (before: unknown, query: { queryKey: readonly unknown[] } | undefined) =>
      (query?.queryKey[3] === niche.value ? before : undefined) as never,
    retry: false,
  })),
);
// A first plan starts with what the niche's costs say.
watch(
  () => (made.isPlaceholderData.value ? undefined : made.data.value),
  (found) => {
    if (found && document.value === null) document.value = found.document as PlanDocument;
  },
);
const plan = computed<MadePlan | null>(() => made.data.value?.made ?? null);
const problem = computed(() => made.data.value?.problem ?? "");

function change(now: PlanDocument): void {
  document.value = now;
  changed.value = true;
}

const at = (plan: string | undefined) => ({
  path: "/plan",
  query: { market: market.value?.market_id, niche: niche.value, plan },
});

/** What is kept, and what it does to the market's other orders. */
async function refresh(): Promise<void> {
  void cache.invalidateQueries({ queryKey: [...PLANS, "orders"] });
  await cache.invalidateQueries({ queryKey: [...PLANS, "kept"] });
}

async function keep(state: PlanState, copy = false): Promise<void> {
  if (!market.value || !document.value) return;
  const again = copy ? null : (open.value?.key ?? null);
  const own = copy ? { ...document.value, name: `${document.value.name ?? "Plan"}, copy` } : document.value; // prettier-ignore
  try {
    const done = await keepPlan({
      market_id: market.value.market_id,
      niche_id: niche.value,
      document: own,
      key: again,
      state,
      version: again === null ? null : (open.value?.version ?? null),
    });
    changed.value = false;
    await refresh();
    notify(state === "dropped" ? `Dropped: ${done.name}.` : `Kept: ${done.name}.`);
    // Who went on meanwhile is not fetched back.
    if (route.path === "/plan") await router.push(at(state === "dropped" ? undefined : done.key));
  } catch (error) {
    notify(`Not kept: ${(error as ApiError).message}`, true);
  }
}

async function undo(one: KeptPlan): Promise<void> {
  try {
    const { plan: before } = await undoPlan(one.key);
    changed.value = false;
    await refresh();
    notify(before ? `Undone: ${before.name} is as it was before.` : `Undone: ${one.name} is gone.`);
    if (!before) await router.push(at(undefined));
  } catch (error) {
    notify((error as ApiError).message);
  }
}

/** All plans of the market, of which those of this niche stand side by side. */
const others = useQuery(
  computed(() => ({
    ...orderQueries.all(market.value?.market_id ?? ""),
    enabled: Boolean(market.value && plans.value.length),
  })),
);
const beside = computed(() =>
  (others.data.value?.plans ?? []).filter((one) => one.niche_id === niche.value),
);
const mine = computed(() => beside.value.find((one) => one.key === key.value));
const unkept = computed(() => {
  if (!plan.value || !document.value || (open.value && !changed.value)) return undefined;
  const ways = (document.value.transport ?? []).map((way) => way.name ?? "").join(", ");
  return { plan: plan.value, supplier: document.value.quote?.name ?? "", ways };
});
const orders = computed(() => ({
  path: "/orders",
  query: { market: market.value?.market_id ?? "" },
}));
const print = (): void => window.print();
const dossier = computed(() => ({
  path: "/dossier",
  query: { market: market.value?.market_id, niche: niche.value },
}));
const money = (value: number | null | undefined): string => formatMoney(value);
</script>

<template>
  <div class="plan">
    <MarketGate
      :pending="Boolean(niche) && !made.data.value"
      :empty="!niche && NO_NICHE"
      :failure="made.data.value ? null : (kept.error.value ?? made.error.value)"
      @retry="made.refetch()"
    >
      <aside class="side" aria-label="The plan">
        <h1 class="serif">
          <RouterLink :to="dossier">{{ named }}</RouterLink>
        </h1>
        <nav v-if="plans.length" aria-label="Plans that are kept">
          <p v-for="one in plans" :key="one.key" class="kept">
            <RouterLink :to="at(one.key)" :aria-current="one.key === key ? 'true' : undefined">{{
              one.name
            }}</RouterLink>
            <span class="small">{{ one.state === "ordered" ? "ordered" : "" }}</span>
          </p>
          <p v-if="key"><RouterLink :to="at(undefined)">A new plan</RouterLink></p>
          <p><RouterLink :to="orders">All orders on one cash path</RouterLink></p>
        </nav>
        <p class="acts">
          <v-btn
            variant="flat"
            :disabled="!plan || (!changed && Boolean(open))"
            @click="keep(open?.state ?? 'drafted')"
            >{{ open ? "Keep the changes" : "Keep this plan" }}</v-btn
          >
          <v-btn v-if="open" @click="keep('drafted', true)">Copy</v-btn>
          <v-btn v-if="open && open.state !== 'ordered'" :disabled="!plan" @click="keep('ordered')"
            >It is ordered</v-btn
          >
          <v-btn v-if="open" @click="undo(open)">Undo the last change</v-btn>
          <v-btn v-if="open" @click="keep('dropped')">Drop</v-btn>
        </p>
        <p v-if="open && !changed" class="acts">
          <FileLinks :address="`/api/desk/plans/file/?key=${open.key}`" what="this plan" />
          <v-btn @click="print">Print</v-btn>
        </p>
        <PlanForm v-if="document" :model-value="document" @update:model-value="change" />
      </aside>
      <div class="main" tabindex="0" role="region" aria-label="What comes of it">
        <p v-if="made.error.value" class="problem" role="alert">{{ made.error.value.message }}</p>
        <EmptyView v-if="problem" title="No plan can be made of this" :text="problem" />
        <template v-else-if="plan">
          <h1 class="serif printed">{{ named }} · {{ plan.name }}</h1>
          <p class="serif told" role="status">{{ plan.sentence }}</p>
          <ul v-if="plan.warnings.length" class="warnings" aria-label="What to look out for">
            <li v-for="one in plan.warnings" :key="one">{{ one }}</li>
          </ul>
          <p v-if="mine?.came_of_it" class="told">{{ mine.came_of_it }}</p>
          <PlanFacts :plan="plan" />
          <section v-if="beside.length > (unkept ? 0 : 1)">
            <h2 class="serif">Beside the other plans</h2>
            <PlansBeside :plans="beside" :unkept="unkept" :open="unkept ? '' : key" :plan-of="at" />
          </section>
          <div class="beside">
            <section>
              <h2 class="serif">
                <span v-explain="'newcomers-path'">What newcomers here have reached</span>
              </h2>
              <template v-if="plan.newcomers">
                <NewcomersChart class="chart" :newcomers="plan.newcomers" />
                <p class="small">
                  Launches that nobody clicked within a year are missing: it is rather too good than
                  too bad.
                </p>
              </template>
              <p v-else class="small">
                Not known: that takes launched_on of listings, and units in listing_weeks.
              </p>
            </section>
            <section>
              <h2 class="serif">What is left of a unit</h2>
              <UnitBars :unit="plan.unit" :assumed="plan.assumed" />
              <p class="small">
                at the mean price and advertising of the months on sale ·
                {{ formatCount(plan.bill.units) }} units cost {{ money(plan.bill.landed) }} landed
              </p>
            </section>
            <section>
              <h2 class="serif">How many</h2>
              <QuantityChart class="chart" :plan="plan" />
              <ul class="working">
                <li v-for="one in plan.quantity.working" :key="one">{{ one }}</li>
                <li v-if="plan.plain_practice">
                  plain practice: {{ plan.plain_practice.working }}
                </li>
              </ul>
            </section>
            <section>
              <h2 class="serif">What moves the result most</h2>
              <p class="small">
                change of the balance at the end, on average; our choice of how far
              </p>
              <MovesBars :plan="plan" />
            </section>
          </div>
          <section>
            <h2 class="serif"><span v-explain="'cash-path'">Cash, week by week</span></h2>
            <CashChart class="cash" :plan="plan" />
            <p class="small">
              {{
                plan.payments
                  .map(
                    (one) =>
                      `${one.what} ${money(one.amount)} in the week of ${formatDay(one.week)}`,
                  )
                  .join(" · ")
              }}
            </p>
          </section>
        </template>
      </div>
    </MarketGate>
  </div>
</template>

<style scoped>
.plan {
  display: flex;
  height: 100%;
}

.side {
  flex: none;
  box-sizing: border-box;
  width: 340px;
  padding: 12px 14px 20px var(--gutter);
  overflow-y: auto;
  border-right: 1px solid var(--rule);
  background: var(--page);
  scrollbar-width: thin;
}

h1 {
  margin: 0 0 6px;
  font-size: 19px;
  overflow-wrap: anywhere;
}

h1 a {
  color: inherit;
  text-decoration: none;
}

h1 a:hover {
  text-decoration: underline;
}

.kept,
nav p {
  display: flex;
  gap: 8px;
  align-items: baseline;
  margin: 0;
  padding: 2px 0;
}

nav a {
  color: var(--q5);
}

.kept a[aria-current] {
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: baseline;
  margin: 8px 0;
}

.main {
  flex: 1;
  min-width: 0;
  padding: 12px var(--gutter) 24px;
  overflow-y: auto;
  scrollbar-width: thin;
}

.told {
  max-width: 900px;
  margin: 0 0 6px;
  font-size: 17px;
  line-height: 1.4;
}

.warnings {
  max-width: 900px;
  margin: 0 0 8px;
  padding: 6px 12px 6px 28px;
  background: var(--ochre-wash);
}

h2 {
  margin: 6px 0 2px;
  font-size: 15px;
}

.chart {
  height: 210px;
}

.cash {
  height: 240px;
}

.working {
  margin: 4px 0;
  padding-left: 18px;
  color: var(--ink2);
}

.problem {
  color: var(--rust);
}

@media (max-width: 900px) {
  .plan {
    flex-direction: column;
    height: auto;
  }

  /* What comes of it goes before what it is made from. */
  .main {
    order: -1;
  }

  .side {
    width: auto;
    border-top: 1px solid var(--rule);
    border-right: 0;
  }
}

.printed {
  display: none;
}

@media print {
  .printed {
    display: block;
  }

  .plan {
    display: block;
    height: auto;
  }

  .side {
    display: none;
  }

  .beside {
    display: block;
  }

  section {
    break-inside: avoid;
    print-color-adjust: exact;
  }
}
</style>
