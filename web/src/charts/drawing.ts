/** Work that can wait until the page in view stands, a piece an idle moment, in the order it came. */
const waiting: (() => void)[] = [];
let running = false;

function next(): void {
  waiting.shift()?.();
  if (waiting.length) window.requestIdleCallback(next, { timeout: 200 });
  else running = false;
}

/** Does `work` when there is time for it; the answer takes it back. */
export function whenIdle(work: () => void): () => void {
  waiting.push(work);
  if (!running) {
    running = true;
    window.requestIdleCallback(next, { timeout: 200 });
  }
  return () => {
    const at = waiting.indexOf(work);
    if (at >= 0) waiting.splice(at, 1);
  };
}

// Paper shows what the window does not.
window.addEventListener("beforeprint", () => {
  for (const work of waiting.splice(0)) work();
});
