import { useQueryClient } from "@tanstack/vue-query";
import { ref } from "vue";
import type { ApiError, Schemas } from "@/api/client";
import { decideTheme, pinSentence, undoTheme, unpinSentence, VOICES } from "@/api/niche";
import { useNotice } from "@/state/useNotice";

export type Theme = Schemas["VoiceTheme"];
export type Said = Schemas["VoiceSentence"];
type Request = Schemas["ThemeActRequestRequest"];
export type ThemeAct = Pick<Request, "act"> &
  Partial<Omit<Request, "market_id" | "niche_id" | "language">>;
/** What an act does not take. */
const NOTHING = { theme: "", name: "", into: "", tone: "either", text: "" } as const;

/** The researcher's decisions on what a niche's buyers write. */
export function useThemes(about: () => { market: string; niche: string; language: string }) {
  const cache = useQueryClient();
  const { notify } = useNotice();
  const busy = ref(false);

  /** Does something, says what was done or why not, and shows what is there then. */
  async function make(work: () => Promise<unknown>, told: string): Promise<boolean> {
    if (busy.value) return false;
    busy.value = true;
    try {
      await work();
      notify(told);
      return true;
    } catch (error) {
      notify(`Not done: ${(error as ApiError).message}`, true);
      return false;
    } finally {
      await cache.invalidateQueries({ queryKey: VOICES });
      busy.value = false;
    }
  }

  return {
    busy,
    decide: (act: ThemeAct, told: string) => {
      const { market: market_id, niche: niche_id, language } = about();
      return make(
        () => decideTheme({ market_id, niche_id, language, ...NOTHING, words: [], ...act }),
        told,
      );
    },
    undo: (key: number) => make(() => undoTheme(key), "Undone."),
    pin: (one: Said, theme: string) => {
      const { market: market_id, niche: niche_id } = about();
      const { voice_id, said } = one;
      return make(
        () => pinSentence({ market_id, niche_id, voice_id, said, theme }),
        "Pinned to the note of this niche.",
      );
    },
    unpin: (key: number) => make(() => unpinSentence(key), "No longer pinned."),
  };
}
export type ThemesState = ReturnType<typeof useThemes>;
