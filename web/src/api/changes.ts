import { answerOf, client } from "./client";

/** What has changed since a moment. The browser asks with the mark of its last answer; 304 gives that again. */
export const readChanges = (since: string) =>
  answerOf(
    client.GET("/api/changes/", { params: { query: since ? { since } : {} }, cache: "no-cache" }),
  );
