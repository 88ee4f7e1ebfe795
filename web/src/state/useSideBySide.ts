import { useRouter } from "vue-router";
import { useKind } from "./useKind";
import { MAX_COMPARED } from "./useMarked";
import { useNotice } from "./useNotice";

/** To the page on which some of the screen's kind stand side by side, or why they cannot. */
export function useSideBySide(): (market: string | undefined, ids: string[]) => void {
  const router = useRouter();
  const kind = useKind();
  const { notify } = useNotice();
  return (market, ids) => {
    if (ids.length < 2 || ids.length > MAX_COMPARED) {
      notify(
        `Two to ${MAX_COMPARED} ${kind.many} stand side by side; ${ids.length} ${ids.length === 1 ? "is" : "are"} marked.`,
      );
      return;
    }
    void router.push({ path: "/compare", query: { of: kind.of, market, [kind.named]: ids } });
  };
}
