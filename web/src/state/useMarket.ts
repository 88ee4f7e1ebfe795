import { useQuery } from "@tanstack/vue-query";
import { computed, type ComputedRef, watchEffect } from "vue";
import { useRoute } from "vue-router";
import type { MarketSummary } from "@/api/client";
import { currency } from "@/format/money";
import { registryQueries } from "@/api/registry";
import type { KindWords } from "./useKind";
import { addDays, yearShare } from "@/format/values";

const useMarkets = () => useQuery(registryQueries.markets());

export interface UseMarketReturn {
  markets: ReturnType<typeof useMarkets>;
  /** The market the address names, else the first. */
  market: ComputedRef<MarketSummary | undefined>;
  id: ComputedRef<string | undefined>;
  /** Whether it is known that nothing is loaded. */
  nothing: ComputedRef<boolean>;
}

/** The market one is in. */
export function useMarket(): UseMarketReturn {
  const route = useRoute();
  const markets = useMarkets();
  const market = computed(
    () =>
      markets.data.value?.find((one) => one.market_id === route.query["market"]) ??
      markets.data.value?.[0],
  );
  watchEffect(() => {
    if (market.value) currency.value = market.value.currency;
  });
  return {
    markets,
    market,
    id: computed(() => market.value?.market_id),
    nothing: computed(() => markets.data.value?.length === 0),
  };
}

/** When goods ordered on the planning date are on sale, as a share of the year: of one niche, whose lead time may be its own. */
export function arrivalShare(market: MarketSummary, niche = ""): number {
  const own = market.own_lead_days[niche];
  return yearShare(own === undefined ? market.arrival : addDays(market.planning_date, own));
}

/** Ids of what an address names of a kind, once each. */
export function useNamed(kind: KindWords): ComputedRef<string[]> {
  const route = useRoute();
  return computed(() => {
    const named = [route.query[kind.named] ?? []].flat();
    return [...new Set(named.filter((one): one is string => Boolean(one)))];
  });
}
