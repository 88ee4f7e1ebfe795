import { createGlobalState, useMutationObserver } from "@vueuse/core";
import { shallowRef, type Ref } from "vue";

export interface Tokens {
  ink: string;
  ink2: string;
  ink3: string;
  rule: string;
  page: string;
  q0: string;
  q1: string;
  q2: string;
  q3: string;
  q4: string;
  q5: string;
  q6: string;
  ochre: string;
  ochreText: string;
  paper: string;
  condensed: string;
  rust: string;
  season: string;
}

const NAMES = [
  "ink",
  "ink2",
  "ink3",
  "rule",
  "page",
  "q0",
  "q1",
  "q2",
  "q3",
  "q4",
  "q5",
  "q6",
  "ochre",
  "ochreText",
  "paper",
  "condensed",
  "rust",
  "season",
] as const;

function readTokens(): Tokens {
  const style = getComputedStyle(document.documentElement);
  // Names of fonts stand in double quotes, which would end the attribute they are written into in a drawing.
  const read = (name: string): string =>
    style
      .getPropertyValue(`--${name.replace("T", "-t")}`)
      .trim()
      .replaceAll('"', "'");
  return Object.fromEntries(NAMES.map((name) => [name, read(name)])) as unknown as Tokens;
}

/** The design's colours for charts, which cannot read CSS variables; renewed at nightfall. They are read once for all
 *  charts, since each reading makes the browser work out the style of the whole page. */
export const useTokens = createGlobalState((): Readonly<Ref<Tokens>> => {
  const tokens = shallowRef(readTokens());
  useMutationObserver(document.documentElement, () => (tokens.value = readTokens()), {
    attributeFilter: ["data-theme"],
  });
  return tokens;
});
