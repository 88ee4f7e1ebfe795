import { type QueryClient, useQueryClient } from "@tanstack/vue-query";
import { type CategoryTree, TREES } from "@/api/catalogue";
import {
  CATEGORIES,
  type Choice,
  type Kind,
  NICHES,
  type Schemas,
  type SubjectPreview,
} from "@/api/client";
import { LEDGER_KEYS, type LedgerQuery } from "@/api/ledger";
import { PREVIEWS } from "@/api/previews";

type Ledger = Schemas["Ledger"];
type Queue = Schemas["Queue"];
/** Decisions by the id of what was decided on; null for an open one. */
export type Standing = ReadonlyMap<string, Choice | null>;

/** When something was decided here last, by kind and id, so that a late answer does not cover it up. */
const decidedAt = new Map<string, number>();
const markOf = (of: Kind, id: string): string => `${of} ${id}`;
let clock = 0;

export interface ShownDecisions {
  /** Writes decisions into all that shows them; no list changes its rows by that. */
  show: (decisions: Standing) => void;
  /** How it stands with some rows in what is shown. */
  shown: (ids: string[]) => Standing;
  /** Notes that something is decided on here, now. */
  touch: (ids: string[]) => void;
  /** The present moment, for `untouched`. */
  now: () => number;
  /** Those of some decisions that nothing decided here since has overtaken. */
  untouched: (decisions: Standing, since: number) => Standing;
}

/** Decisions on a kind as its ledger and chart, Skim and the dossier show them; for each kind. */
export function useShownDecisions(): (of: Kind) => ShownDecisions {
  const cache = useQueryClient();
  return (of) => shownDecisions(cache, of);
}

function shownDecisions(cache: QueryClient, of: Kind): ShownDecisions {
  /** Lists of that kind: an id of a niche may be a term's as well. */
  const lists = (key: readonly string[]) => ({
    queryKey: key,
    predicate: ({ queryKey }: { queryKey: readonly unknown[] }) =>
      ((queryKey[2] as LedgerQuery).of ?? NICHES) === of,
  });
  const previews = { queryKey: [...PREVIEWS, of] };
  return {
    show(decisions) {
      const now = <T extends { id: string; decision: Choice | null }>(one: T): T =>
        decisions.has(one.id) ? { ...one, decision: decisions.get(one.id) ?? null } : one;
      cache.setQueriesData<Ledger>(
        lists(LEDGER_KEYS.pages),
        (page) => page && { ...page, rows: page.rows.map(now) },
      );
      cache.setQueriesData<SubjectPreview>(previews, (one) => one && now(one));
      if (of === CATEGORIES)
        cache.setQueriesData<CategoryTree>(
          { queryKey: TREES },
          (tree) => tree && { ...tree, rows: tree.rows.map(now) },
        );
      for (const queryKey of [LEDGER_KEYS.ids, LEDGER_KEYS.points]) {
        cache.setQueriesData<Queue>(lists(queryKey), (queue) => {
          if (!queue) return queue;
          const standing = Object.fromEntries(
            Object.entries(queue.decisions).filter(([id]) => !decisions.has(id)),
          );
          for (const [id, choice] of decisions) if (choice) standing[id] = choice;
          return { ...queue, decisions: standing };
        });
      }
    },
    shown(ids) {
      const found = new Map<string, Choice | null>();
      for (const [, page] of cache.getQueriesData<Ledger>(lists(LEDGER_KEYS.pages)))
        for (const row of page?.rows ?? []) found.set(row.id, row.decision);
      for (const [, queue] of cache.getQueriesData<Queue>(lists(LEDGER_KEYS.ids)))
        for (const id of queue?.ids ?? [])
          if (ids.includes(id)) found.set(id, queue?.decisions[id] ?? null);
      if (of === CATEGORIES)
        for (const [, tree] of cache.getQueriesData<CategoryTree>({ queryKey: TREES }))
          for (const row of tree?.rows ?? []) found.set(row.id, row.decision);
      for (const [, one] of cache.getQueriesData<SubjectPreview>(previews))
        if (one) found.set(one.id, one.decision);
      return new Map(ids.map((id) => [id, found.get(id) ?? null]));
    },
    touch(ids) {
      clock += 1;
      for (const id of ids) decidedAt.set(markOf(of, id), clock);
    },
    now: () => clock,
    untouched: (decisions, since) =>
      new Map([...decisions].filter(([id]) => (decidedAt.get(markOf(of, id)) ?? 0) <= since)),
  };
}
