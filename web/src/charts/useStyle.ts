import { computed, type ComputedRef } from "vue";
import { formatWhole } from "@/format/values";
import { useTokens, type Tokens } from "./useTokens";

export interface Style {
  t: Tokens;
  /** Small print: axes and labels. */
  small: { fontFamily: string; fontSize: number; color: string };
  /** A label above a mark, in the colour of dates. */
  dated: { fontFamily: string; fontSize: number; color: string };
  tooltip: Record<string, unknown>;
  /** An axis of days, or of values, in the design's rules. */
  timeAxis: Record<string, unknown>;
  valueAxis: Record<string, unknown>;
}

/** What all charts of the dossier look alike in. */
export function useStyle(): ComputedRef<Style> {
  const tokens = useTokens();
  return computed(() => {
    const t = tokens.value;
    const small = { fontFamily: t.condensed, fontSize: 11, color: t.ink3 };
    const line = { lineStyle: { color: t.rule } };
    return {
      t,
      small,
      dated: { ...small, color: t.ochreText },
      tooltip: {
        confine: true,
        backgroundColor: t.page,
        borderColor: t.rule,
        borderRadius: 2,
        textStyle: { color: t.ink, fontSize: 12 },
      },
      timeAxis: { type: "time", axisLine: line, axisTick: { show: false }, axisLabel: small },
      valueAxis: {
        type: "value",
        axisLabel: { ...small, formatter: formatAxis },
        nameTextStyle: { ...small, align: "left" },
        splitLine: line,
      },
    };
  });
}

/** A hollow mark on the page's ground; the library's own hollow symbols are filled white, also at night. */
export const hollow = (t: Tokens, color: string, width = 1.6): Record<string, unknown> => ({
  color: t.paper,
  borderColor: color,
  borderWidth: width,
});

/** A value on an axis or in a tip: whole from a hundred on, three digits below. */
export const formatAxis = (value: number | null | undefined): string =>
  value === null || value === undefined
    ? "–"
    : (Math.abs(value) >= 100 ? formatWhole(value) : String(Number(value.toPrecision(3)))).replace(
        "-",
        "−",
      );

export const formatPercent = (value: number): string =>
  `${Number((value * 100).toPrecision(3))}%`.replace("-", "−");

/** A band between two curves, as two stacked series: one unseen, one filled. */
export function band(
  low: [string | number, number | null][],
  high: (number | null)[],
  colour: string,
  stack: string,
) {
  const unseen = { type: "line", stack, showSymbol: false, silent: true, lineStyle: { width: 0 } };
  return [
    { ...unseen, data: low },
    {
      ...unseen,
      data: low.map(([at, value], i) => {
        const top = high[i];
        return [at, value === null || top == null ? null : top - value];
      }),
      areaStyle: { color: colour, opacity: 0.6 },
    },
  ];
}
