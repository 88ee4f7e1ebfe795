import { useQueryClient } from "@tanstack/vue-query";
import { ALMANAC } from "@/api/almanac";
import { answerOf, type ApiError, type Choice, client, type Schemas } from "@/api/client";
import { SHORTLIST } from "@/api/desk";
import { howMany, KINDS, useKind } from "./useKind";
import { useNotice } from "./useNotice";
import { useShownDecisions } from "./shownDecisions";

type Undone = Schemas["DecisionsUndone"];

interface Named {
  id: string;
  name: string;
}

export interface UseDecisionsReturn {
  decide: (market: string, subject: Named, choice: Choice) => Promise<void>;
  decideAll: (market: string, ids: string[], choice: Choice) => Promise<void>;
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

/** Keep, park, pass and undo, of the screen’s kind; shown at once, put right when the server refuses. */
export function useDecisions(): UseDecisionsReturn {
  const cache = useQueryClient();
  const { notify } = useNotice();
  const kind = useKind();
  const shownOf = useShownDecisions();
  const { show, shown, touch, now, untouched } = shownOf(kind.of);

  /** Shows a decision at once; returns what puts back how it stood, where nothing has overtaken it. */
  function showNow(ids: string[], choice: Choice): () => void {
    const before = shown(ids);
    touch(ids);
    const made = now();
    show(new Map(ids.map((id) => [id, choice === "open" ? null : choice])));
    return () => show(untouched(before, made));
  }

  async function record(work: Promise<unknown>, done: string, back: () => void): Promise<void> {
    try {
      await work;
      notify(`${done} u undoes it.`);
    } catch (error) {
      back();
      notify(`Not recorded, and not shown any more: ${done} ${(error as ApiError).message}`, true);
    }
    await Promise.all(
      [SHORTLIST, ALMANAC].map((queryKey) => cache.invalidateQueries({ queryKey })),
    );
  }

  async function decide(market: string, subject: Named, choice: Choice): Promise<void> {
    const back = showNow([subject.id], choice);
    const body = { market_id: market, of: kind.of, id: subject.id, choice, reason: "" };
    await record(
      inTurn(async () => {
        made.push((await answerOf(client.POST("/api/desk/decisions/", { body }))).decision);
      }),
      `${DONE[choice]} ${subject.name}.`,
      back,
    );
  }

  async function decideAll(market: string, ids: string[], choice: Choice): Promise<void> {
    const back = showNow(ids, choice);
    const body = { market_id: market, of: kind.of, ids, choice, reason: "" };
    await record(
      inTurn(async () => {
        const [first] = await answerOf(client.POST("/api/desk/decisions/several/", { body }));
        if (first) made.push(first.decision);
      }),
      `${DONE[choice]} ${howMany(kind, ids.length)}.`,
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
      // It may be of another kind, decided on another screen.
      const theirs = shownOf(undone.of);
      theirs.show(
        theirs.untouched(new Map(undone.subjects.map((one) => [one.id, one.now])), asked),
      );
      const [first, ...more] = undone.subjects;
      notify(
        `Undone: ${undone.choice} of ${more.length ? howMany(KINDS[undone.of], undone.subjects.length) : first?.name}.`,
      );
      await Promise.all(
        [SHORTLIST, ALMANAC].map((queryKey) => cache.invalidateQueries({ queryKey })),
      );
      return undone;
    } catch (error) {
      notify((error as ApiError).message);
      return undefined;
    }
  }

  return { decide, decideAll, undo };
}
