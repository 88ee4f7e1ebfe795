import type { Directive } from "vue";

/**
 * Says what a heading, mark or count means: `v-explain="'headroom'"` by a word of the glossary, `v-explain:figure="key"`
 * by a figure of the registry. TipLayer shows it by hover, focus and touch; what takes no focus by itself gets it.
 */
export const explain: Directive<HTMLElement, string | undefined, never, "figure" | "word"> = (
  element,
  { value, arg },
) => {
  const name = arg === "figure" ? "data-figure" : "data-word";
  if (!value) {
    element.removeAttribute(name);
    return;
  }
  element.setAttribute(name, value);
  const focusable = "a[href],button,input,select,textarea,[tabindex]";
  if (!element.closest(focusable) && !element.querySelector(focusable)) element.tabIndex = 0;
};
