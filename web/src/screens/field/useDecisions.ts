import { useQueryClient } from "@tanstack/vue-query";
import { ref, type Ref } from "vue";
import {
  answerOf,
  ApiError,
  type Choice,
  client,
  type NichePreview,
  type Schemas,
} from "@/api/client";

type Ledger = Schemas["Ledger"];

export interface UseDecisionsReturn {
  /** What was last done, to be said; empty when nothing is to say. */
  said: Ref<string>;
  decide: (
    market: string,
    niche: { niche_id: string; name: string },
    choice: Choice,
  ) => Promise<void>;
  undo: () => Promise<void>;
}

const DONE: Record<Choice, string> = {
  keep: "Kept",
  park: "Parked",
  pass: "Passed",
  open: "Decision taken back:",
};

/** Keep, park, pass and undo; shown at once, put right when the server refuses. */
export function useDecisions(): UseDecisionsReturn {
  const cache = useQueryClient();
  const said = ref("");

  function show(niche: string, decision: Choice | null): void {
    cache.setQueriesData<Ledger>(
      { queryKey: ["ledger"] },
      (page) =>
        page && {
          ...page,
          rows: page.rows.map((row) => (row.niche_id === niche ? { ...row, decision } : row)),
        },
    );
    cache.setQueriesData<NichePreview>({ queryKey: ["preview"] }, (one) =>
      one?.niche_id === niche ? { ...one, decision } : one,
    );
  }

  async function decide(
    market: string,
    niche: { niche_id: string; name: string },
    choice: Choice,
  ): Promise<void> {
    show(niche.niche_id, choice === "open" ? null : choice);
    try {
      await answerOf(
        client.POST("/api/decisions/", {
          body: { market_id: market, niche_id: niche.niche_id, choice, reason: "" },
        }),
      );
      said.value = `${DONE[choice]} ${niche.name}. u undoes it.`;
    } catch (error) {
      said.value = `Not recorded: ${(error as ApiError).message}`;
      await cache.invalidateQueries({ queryKey: ["ledger"] });
    }
  }

  async function undo(): Promise<void> {
    try {
      const undone = await answerOf(client.POST("/api/decisions/undo/"));
      show(undone.niche_id, undone.now);
      said.value = `Undone: ${undone.choice}.`;
    } catch (error) {
      said.value = (error as ApiError).message;
    }
  }

  return { said, decide, undo };
}
