import { useQueryClient } from "@tanstack/vue-query";
import { useLocalStorage } from "@vueuse/core";
import type { Ref } from "vue";
import { ApiError, type Kind, NICHES } from "@/api/client";
import { saveRemark, SHORTLIST } from "@/api/desk";
import { previewQueries } from "@/api/previews";

/** A note that the server does not have yet. was: the one it was written from. theirs: what was kept elsewhere
 *  meanwhile; undefined where nothing was. problem: why it is not kept. */
export interface Draft {
  of: Kind;
  market: string;
  id: string;
  name: string;
  text: string;
  was: string;
  theirs?: string;
  problem?: string;
}

const DRAFTS = "driftfield.drafts";
/** One for all: a note is on its way still when its field is gone, and what becomes of it is to be kept. */
const drafts = useLocalStorage<Record<string, Draft>>(DRAFTS, {});
const keyOf = (of: Kind, market: string, id: string): string =>
  of === NICHES ? `${market}\n${id}` : `${of}\n${market}\n${id}`;
const UNREACHED = 0;
const CHANGED = 412;

export interface UseDraftsReturn {
  drafts: Ref<Record<string, Draft>>;
  draftOf: (of: Kind, market: string, id: string) => Draft | undefined;
  /** Keeps what is typed in this browser until the server has it. */
  keep: (draft: Draft) => void;
  drop: (of: Kind, market: string, id: string) => void;
  /** Sends a draft; whether the server has it now. */
  send: (of: Kind, market: string, id: string) => Promise<boolean>;
  /** Sends those that failed before; with `left` also what was typed when a page was left. */
  sendAll: (left: boolean) => Promise<void>;
}

/** Notes on their way: kept in this browser, so that neither a lost connection nor a closed page loses one. */
export function useDrafts(): UseDraftsReturn {
  const cache = useQueryClient();
  const draftOf = (of: Kind, market: string, id: string): Draft | undefined =>
    drafts.value[keyOf(of, market, id)];

  function keep(draft: Draft): void {
    drafts.value = { ...drafts.value, [keyOf(draft.of, draft.market, draft.id)]: draft };
  }

  function drop(of: Kind, market: string, id: string): void {
    const key = keyOf(of, market, id);
    drafts.value = Object.fromEntries(Object.entries(drafts.value).filter(([one]) => one !== key));
  }

  async function send(of: Kind, market: string, id: string): Promise<boolean> {
    const draft = draftOf(of, market, id);
    if (!draft) return true;
    const { text, was } = draft;
    try {
      const saved = await saveRemark({ market_id: market, of, id, note: text.trim(), was });
      // What was typed on meanwhile stays a draft, written from what is kept now.
      const now = draftOf(of, market, id);
      if (now && now.text !== text) keep({ ...now, was: saved.note, problem: undefined });
      else drop(of, market, id);
      // Of a category, by every lens that it was looked at with.
      cache.setQueriesData<{ note: string }>(
        { queryKey: previewQueries.of(of, market, id).queryKey },
        (one) => one && { ...one, note: saved.note },
      );
      await cache.invalidateQueries({ queryKey: SHORTLIST });
      return true;
    } catch (error) {
      const { status, message } = error as ApiError;
      const theirs = status === CHANGED ? await kept(of, market, id) : undefined;
      keep({ ...(draftOf(of, market, id) ?? draft), theirs, problem: message });
      return false;
    }
  }

  /** The note that the server has; undefined where it does not say. */
  async function kept(of: Kind, market: string, id: string): Promise<string | undefined> {
    const query = previewQueries.of(of, market, id);
    await cache.invalidateQueries({ queryKey: query.queryKey, refetchType: "none" });
    const found = await cache.fetchQuery(query).catch(() => undefined);
    return found?.note;
  }

  async function sendAll(left: boolean): Promise<void> {
    for (const { of = NICHES, market, id, theirs, problem } of Object.values(drafts.value))
      // One without a problem is being typed, and is sent when its field is left.
      if (theirs === undefined && (problem || left)) await send(of, market, id);
  }

  return { drafts, draftOf, keep, drop, send, sendAll };
}

export const isUnreached = (error: unknown): boolean =>
  error instanceof ApiError && error.status === UNREACHED;
