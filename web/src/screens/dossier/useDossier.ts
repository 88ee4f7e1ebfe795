import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { useTimeoutFn } from "@vueuse/core";
import { computed, type MaybeRefOrGetter, ref, toValue, watch } from "vue";
import { NICHES } from "@/api/client";
import { curvesOf } from "@/api/curves";
import { nicheQueries } from "@/api/niche";
import { ownPartQueries } from "@/api/ownPart";
import { previewQueries } from "@/api/previews";

/** Milliseconds in which a dossier has the machine for itself before the next one is fetched. */
const FIRST_THIS = 300;
const nicheCurves = (market: string, niche: string) => curvesOf(NICHES, market, niche);
const QUESTIONS = [
  previewQueries.niche,
  nicheQueries.demand,
  nicheCurves,
  nicheQueries.holders,
  nicheQueries.termsDetail,
  nicheQueries.feedback,
  nicheQueries.voices,
  nicheQueries.costs,
  ownPartQueries.niche,
] as const;

/** Everything a dossier shows of a niche, a query a question; all are asked at once. */
export function useDossier(
  market: MaybeRefOrGetter<string | undefined>,
  niche: MaybeRefOrGetter<string>,
) {
  const cache = useQueryClient();
  function ask<T>(of: (market: string, niche: string) => T) {
    return computed(() => {
      const [id, named] = [toValue(market) ?? "", toValue(niche)];
      return { ...of(id, named), enabled: Boolean(id && named) };
    });
  }
  const preview = useQuery(ask(previewQueries.niche));
  const demand = useQuery(ask(nicheQueries.demand));
  const curves = useQuery(ask(nicheCurves));
  const holders = useQuery(ask(nicheQueries.holders));
  const terms = useQuery(ask(nicheQueries.termsDetail));
  const feedback = useQuery(ask(nicheQueries.feedback));
  const language = ref("");
  watch([() => toValue(market), () => toValue(niche)], () => (language.value = ""));
  const voices = useQuery(ask((id, named) => nicheQueries.voices(id, named, language.value)));
  const costs = useQuery(ask(nicheQueries.costs));
  const own = useQuery(ask(ownPartQueries.niche));

  let next = "";
  const later = useTimeoutFn(
    () => {
      const id = toValue(market);
      if (id) for (const of of QUESTIONS) void cache.prefetchQuery(of(id, next) as never);
    },
    FIRST_THIS,
    { immediate: false },
  );

  return {
    preview,
    demand,
    curves,
    holders,
    terms,
    feedback,
    voices,
    /** Of the texts that are read; empty for that of most. */
    language,
    costs,
    own,
    questions: [preview, demand, curves, holders, terms, feedback, voices, costs, own] as const,
    /** Fetches another niche's while this one is read. */
    fetchAhead: (other: string | undefined): void => {
      if (!other) return;
      next = other;
      later.start();
    },
  };
}
