import { useEventListener } from "@vueuse/core";

/** Work that can wait until the page in view stands, a piece an idle moment, in the order it came. */
const waiting: (() => void)[] = [];
let running = false;
// Not every browser says when it is idle; there a short while must do.
const soon =
  "requestIdleCallback" in window
    ? (work: () => void) => window.requestIdleCallback(work, { timeout: 200 })
    : (work: () => void) => window.setTimeout(work, 30);

function next(): void {
  waiting.shift()?.();
  if (waiting.length) soon(next);
  else running = false;
}

/** Does `work` when there is time for it; the answer takes it back. */
export function whenIdle(work: () => void): () => void {
  waiting.push(work);
  if (!running) {
    running = true;
    soon(next);
  }
  return () => {
    const at = waiting.indexOf(work);
    if (at >= 0) waiting.splice(at, 1);
  };
}

// Paper shows what the window does not.
useEventListener(window, "beforeprint", () => {
  for (const work of waiting.splice(0)) work();
});
