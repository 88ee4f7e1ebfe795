import { useQueryClient } from "@tanstack/vue-query";
import { answerOf, ApiError, type Choice, client, NICHES, type Schemas } from "@/api/client";
import { SHORTLIST } from "@/api/desk";
import { useNotice } from "./useNotice";
import { useShownDecisions } from "./shownDecisions";

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

/** Keep, park, pass and undo; shown at once, put right when the server refuses. */
export function useDecisions(): UseDecisionsReturn {
  const cache = useQueryClient();
  const { notify } = useNotice();
  const { show, shown, touch, now, untouched } = useShownDecisions();

  /** Shows a decision at once; returns what puts back how it stood, where nothing has overtaken it. */
  function showNow(niches: string[], choice: Choice): () => void {
    const before = shown(niches);
    touch(niches);
    const made = now();
    show(new Map(niches.map((niche) => [niche, choice === "open" ? null : choice])));
    return () => show(untouched(before, made));
  }

  async function record(work: Promise<unknown>, done: string, back: () => void): Promise<void> {
    try {
      await work;
      notify(`${done} u undoes it.`);
    } catch (error) {
      back();
      notify(`Not recorded, and not shown any more: ${done} ${(error as ApiError).message}`);
    }
    await cache.invalidateQueries({ queryKey: SHORTLIST });
  }

  async function decide(market: string, niche: Named, choice: Choice): Promise<void> {
    const back = showNow([niche.id], choice);
    const body = { market_id: market, of: NICHES, id: niche.id, choice, reason: "" };
    await record(
      inTurn(async () => {
        made.push((await answerOf(client.POST("/api/desk/decisions/", { body }))).decision);
      }),
      `${DONE[choice]} ${niche.name}.`,
      back,
    );
  }

  async function decideAll(market: string, niches: string[], choice: Choice): Promise<void> {
    const back = showNow(niches, choice);
    const body = { market_id: market, of: NICHES, ids: niches, choice, reason: "" };
    await record(
      inTurn(async () => {
        const [first] = await answerOf(client.POST("/api/desk/decisions/several/", { body }));
        if (first) made.push(first.decision);
      }),
      `${DONE[choice]} ${niches.length} niches.`,
      back,
    );
  }

  async function undo(): Promise<Undone | undefined> {
    const asked = now();
    try {
      const undone = await inTurn(async () => {
        // Where nothing was decided here yet, the latest decision of all is meant.
        const decision =
          made.pop() ?? (await answerOf(client.GET("/api/desk/decisions/undo/"))).decision ?? 0;
        if (!decision) throw new Error("There is no decision to undo.");
        return answerOf(client.POST("/api/desk/decisions/undo/", { body: { decision } }));
      });
      show(untouched(new Map(undone.subjects.map((one) => [one.id, one.now])), asked));
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
