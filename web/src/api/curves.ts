import { queryOptions } from "@tanstack/vue-query";
import { answerOf, CATEGORIES, client, NICHES, type Schemas } from "./client";
import type { paths } from "./schema";

export type Curve = Schemas["ShownCurve"];
/** Kinds whose curves can be laid over one another. */
export type Curved = typeof NICHES | typeof CATEGORIES;

type Keys<P extends "/api/niche/curves/" | "/api/catalogue/curves/"> =
  paths[P]["get"]["parameters"]["query"]["curve"];

/** Curves of a niche or a category: all as they came, or some with the calendar taken out of those that have one. */
export const curvesOf = (of: Curved, market: string, id: string, calm?: string[]) => {
  return queryOptions<Curve[]>({
    queryKey: ["curves", of, market, id, calm],
    queryFn: ({ signal }) => {
      // As they came they are asked for just as the page announces it, which is fetched ahead.
      const season = calm ? { season: "out" as const } : {};
      if (of === CATEGORIES) {
        const curve = calm as Keys<"/api/catalogue/curves/">;
        const query = { market, category: id, ...season, ...(curve ? { curve } : {}) };
        return answerOf(client.GET("/api/catalogue/curves/", { params: { query }, signal }));
      }
      const curve = calm as Keys<"/api/niche/curves/">;
      const query = { market, niche: id, ...season, ...(curve ? { curve } : {}) };
      return answerOf(client.GET("/api/niche/curves/", { params: { query }, signal }));
    },
  });
};
