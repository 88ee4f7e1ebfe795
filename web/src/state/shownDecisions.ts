import { useQueryClient } from "@tanstack/vue-query";
import type { Choice, NichePreview, Schemas } from "@/api/client";
import { LEDGER_KEYS } from "@/api/ledger";
import { PREVIEWS } from "@/api/niche";

type Ledger = Schemas["Ledger"];
type Queue = Schemas["Queue"];
/** Decisions by niche; null for an open one. */
export type Standing = ReadonlyMap<string, Choice | null>;

/** When a niche was decided here last, so that a late answer does not cover it up. */
const decidedAt = new Map<string, number>();
let clock = 0;

export interface UseShownDecisionsReturn {
  /** Writes decisions into all that shows them; no list changes its rows by that. */
  show: (niches: Standing) => void;
  /** How it stands with some niches in what is shown. */
  shown: (niches: string[]) => Standing;
  /** Notes that niches are decided on here, now. */
  touch: (niches: string[]) => void;
  /** The present moment, for `untouched`. */
  now: () => number;
  /** Those of some decisions that nothing decided here since has overtaken. */
  untouched: (niches: Standing, since: number) => Standing;
}

/** Decisions as the ledger, the chart, Skim and the dossier show them. */
export function useShownDecisions(): UseShownDecisionsReturn {
  const cache = useQueryClient();
  return {
    show(niches) {
      const now = <T extends { id: string; decision: Choice | null }>(one: T): T =>
        niches.has(one.id) ? { ...one, decision: niches.get(one.id) ?? null } : one;
      cache.setQueriesData<Ledger>(
        { queryKey: LEDGER_KEYS.pages },
        (page) => page && { ...page, rows: page.rows.map(now) },
      );
      cache.setQueriesData<NichePreview>({ queryKey: PREVIEWS }, (one) => one && now(one));
      for (const queryKey of [LEDGER_KEYS.ids, LEDGER_KEYS.points]) {
        cache.setQueriesData<Queue>({ queryKey }, (queue) => {
          if (!queue) return queue;
          const decisions = Object.fromEntries(
            Object.entries(queue.decisions).filter(([niche]) => !niches.has(niche)),
          );
          for (const [niche, choice] of niches) if (choice) decisions[niche] = choice;
          return { ...queue, decisions };
        });
      }
    },
    shown(niches) {
      const found = new Map<string, Choice | null>();
      for (const [, page] of cache.getQueriesData<Ledger>({ queryKey: LEDGER_KEYS.pages }))
        for (const row of page?.rows ?? []) found.set(row.id, row.decision);
      for (const [, queue] of cache.getQueriesData<Queue>({ queryKey: LEDGER_KEYS.ids }))
        for (const niche of queue?.ids ?? [])
          if (niches.includes(niche)) found.set(niche, queue?.decisions[niche] ?? null);
      for (const [, one] of cache.getQueriesData<NichePreview>({ queryKey: PREVIEWS }))
        if (one) found.set(one.id, one.decision);
      return new Map(niches.map((niche) => [niche, found.get(niche) ?? null]));
    },
    touch(niches) {
      clock += 1;
      for (const niche of niches) decidedAt.set(niche, clock);
    },
    now: () => clock,
    untouched: (niches, since) =>
      new Map([...niches].filter(([niche]) => (decidedAt.get(niche) ?? 0) <= since)),
  };
}
