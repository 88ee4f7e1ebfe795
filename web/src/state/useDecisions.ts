import { useQueryClient } from "@tanstack/vue-query";
import {
  answerOf,
  ApiError,
  type Choice,
  client,
  NICHES,
  type NichePreview,
  type Schemas,
} from "@/api/client";
import { SHORTLIST } from "@/api/desk";
import { LEDGER_KEYS } from "@/api/ledger";
import { PREVIEWS } from "@/api/niche";
import { useNotice } from "./useNotice";

type Ledger = Schemas["Ledger"];
type Queue = Schemas["Queue"];
type Undone = Schemas["DecisionsUndone"];

interface Named {
  id: string;
  name: string;
}

export interface UseDecisionsReturn {
  decide: (market: string, niche: Named, choice: Choice) => Promise<void>;
  decideAll: (market: string, niches: string[], choice: Choice) => Promise<void>;
  /** What was undone, or nothing where there was nothing to undo. */
  undo: () => Promise<Undone | undefined>;
}

const DONE: Record<Choice, string> = {
  keep: "Kept",
  park: "Parked",
  pass: "Passed",
  open: "Decision undone:",
};

/** Decisions are sent one after the other: an undo must not overtake what it undoes. */
let sending: Promise<unknown> = Promise.resolve();
function inTurn<T>(send: () => Promise<T>): Promise<T> {
  const turn = sending.then(send);
  sending = turn.catch(() => undefined);
  return turn;
}

/** Ids of what was decided in this window, the latest last: an undo takes back one's own and no one else's. */
const made: number[] = [];

/** When a niche was decided here last, so that a late answer does not cover it up. */
const decidedAt = new Map<string, number>();
let clock = 0;

/** Keep, park, pass and undo; shown at once, put right when the server refuses. */
export function useDecisions(): UseDecisionsReturn {
  const cache = useQueryClient();
  const { notify } = useNotice();

  function show(niches: ReadonlyMap<string, Choice | null>): void {
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
  }

  function shown(niches: string[], choice: Choice): void {
    clock += 1;
    for (const niche of niches) decidedAt.set(niche, clock);
    show(new Map(niches.map((niche) => [niche, choice === "open" ? null : choice])));
  }

  async function record(work: Promise<unknown>, done: string): Promise<void> {
    try {
      await work;
      notify(`${done} u undoes it.`);
    } catch (error) {
      notify(`Not recorded: ${(error as ApiError).message}`);
      for (const queryKey of [["ledger"], PREVIEWS]) await cache.invalidateQueries({ queryKey });
    }
    await cache.invalidateQueries({ queryKey: SHORTLIST });
  }

  async function decide(market: string, niche: Named, choice: Choice): Promise<void> {
    shown([niche.id], choice);
    const body = { market_id: market, of: NICHES, id: niche.id, choice, reason: "" };
    await record(
      inTurn(async () => {
        made.push((await answerOf(client.POST("/api/desk/decisions/", { body }))).decision);
      }),
      `${DONE[choice]} ${niche.name}.`,
    );
  }

  async function decideAll(market: string, niches: string[], choice: Choice): Promise<void> {
    shown(niches, choice);
    const body = { market_id: market, of: NICHES, ids: niches, choice, reason: "" };
    await record(
      inTurn(async () => {
        const [first] = await answerOf(client.POST("/api/desk/decisions/several/", { body }));
        if (first) made.push(first.decision);
      }),
      `${DONE[choice]} ${niches.length} niches.`,
    );
  }

  async function undo(): Promise<Undone | undefined> {
    const asked = clock;
    try {
      const undone = await inTurn(async () => {
        // Where nothing was decided here yet, the latest decision of all is meant.
        const decision =
          made.pop() ?? (await answerOf(client.GET("/api/desk/decisions/undo/"))).decision ?? 0;
        if (!decision) throw new Error("There is no decision to undo.");
        return answerOf(client.POST("/api/desk/decisions/undo/", { body: { decision } }));
      });
      const standing = undone.subjects.filter((one) => (decidedAt.get(one.id) ?? 0) <= asked);
      show(new Map(standing.map((one) => [one.id, one.now])));
      const [first, ...more] = undone.subjects;
      notify(
        `Undone: ${undone.choice} of ${more.length ? `${undone.subjects.length} niches` : first?.name}.`,
      );
      await cache.invalidateQueries({ queryKey: SHORTLIST });
      return undone;
    } catch (error) {
      notify((error as ApiError).message);
      return undefined;
    }
  }

  return { decide, decideAll, undo };
}
