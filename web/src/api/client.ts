import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type LedgerRow = Schemas["LedgerRow"];
export type NichePreview = Schemas["NichePreview"];
/** A niche or a term close up. A listing has what these have in common, and figures of its own. */
export type SubjectPreview = NichePreview | Schemas["TermPreview"];
export type MarketSummary = Schemas["MarketSummary"];
export type FigureRow = Schemas["FigureRow"];
export type Choice = Schemas["Choice"];
export type Kind = Schemas["KindName"];

export const NICHES = "niches" satisfies Kind;
export const TERMS = "terms" satisfies Kind;
export const CATEGORIES = "categories" satisfies Kind;
export const LISTINGS = "listings" satisfies Kind;
export const BRANDS = "brands" satisfies Kind;
export const SELLERS = "sellers" satisfies Kind;

export const client = createClient<paths>({ baseUrl: "/" });

/** What went wrong and what to do, as the server said it. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
  ) {
    super(detail);
  }
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer, or an ApiError. */
export async function answerOf<T>(pending: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await pending;
  } catch {
    throw new ApiError(
      0,
      "Driftfield does not answer",
      "The server may have been stopped. Start it with bin/demo, then try again.",
    );
  }
  if (answer.data !== undefined) return answer.data;
  const problem = (answer.error ?? {}) as { title?: string; detail?: string };
  throw new ApiError(
    answer.response.status,
    problem.title ?? `The server answered ${answer.response.status}`,
    problem.detail ?? "Try again. What the server noted of it is on the page Faults.",
  );
}
