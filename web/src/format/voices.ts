import type { Schemas } from "@/api/client";
import { formatShare } from "./values";

type Theme = Schemas["VoiceTheme"];

/** Complaints that stand, most said first: those a better product would answer. */
export const complaintsOf = (detail: Schemas["NicheVoices"]): Theme[] =>
  detail.themes.filter((one) => one.tone === "complaint" && !one.hidden && one.texts > 0);

/** What a better product would do about a complaint, as the researcher worded it or as it was found. */
export const betterLine = (one: Theme): string => one.remedy || `No more “${one.name}”`;

const points = (share: number): string => (share * 100).toFixed(share < 0.01 ? 2 : 1);

/** The share of notes on returns that say it, and what that is of the niche's return rate. */
export function spares(one: Theme, detail: Schemas["NicheVoices"]): string {
  if (!detail.kinds.return) return "not known: no notes on returns";
  const share = `${formatShare(one.returned)} of returns (${formatShare(one.returned_low)} to ${formatShare(one.returned_high)})`;
  if (one.spared_low === null || one.spared_high === null || detail.return_rate === null)
    return share;
  return `${share}: ${points(one.spared_low)} to ${points(one.spared_high)} points of the ${points(detail.return_rate)}% that come back`;
}

/** What buyers write comes first, and then what was counted elsewhere, where anything was. */
export function complaintVerdict(
  written: Schemas["NicheVoices"],
  counted: Schemas["FeedbackDetail"],
): string[] {
  const [first = "", ...rest] = counted.verdict;
  if (!written.verdict.length) return counted.verdict;
  if (!counted.themes.length) return written.verdict;
  const lead = `In feedback that came counted: ${first.charAt(0).toLowerCase()}${first.slice(1)}`;
  return [...written.verdict, lead, ...rest];
}
