import { formatAxis } from "./useStyle";
import type { Tokens } from "./useTokens";

/** The value axis of a small chart: two or three values, from 0, and a hair line at each. */
export const smallValues = (tokens: Tokens) => ({
  type: "value",
  min: 0,
  splitNumber: 2,
  axisLine: { show: false },
  axisTick: { show: false },
  splitLine: { lineStyle: { color: tokens.rule, width: 0.6 } },
  axisLabel: {
    fontFamily: tokens.condensed,
    fontSize: 10,
    color: tokens.ink3,
    margin: 5,
    formatter: (value: number) => formatAxis(value),
  },
});
