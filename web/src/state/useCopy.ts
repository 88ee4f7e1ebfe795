import { useNotice } from "./useNotice";

/** Copies a text and says so; where the browser does not allow it, what to do instead. */
export function useCopy(): (text: string, done: string, instead: string) => Promise<void> {
  const { notify } = useNotice();
  return async (text, done, instead) => {
    try {
      await navigator.clipboard.writeText(text);
      notify(done);
    } catch {
      notify(`The browser does not allow copying here; ${instead}.`);
    }
  };
}
