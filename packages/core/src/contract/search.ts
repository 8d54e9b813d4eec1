import * as z from "zod";
import { Id } from "./common.js";
import { defineOperation } from "./operation.js";

/** What a search looks through, in the order in which it is shown. */
export const SearchSort = z.enum(["entrant", "prompt", "note", "finding", "answer"]).meta({ id: "SearchSort" });
export type SearchSort = z.infer<typeof SearchSort>;

export const SearchHit = z
  .object({
    sort: SearchSort,
    title: z.string().describe("What it is about: prompt and entrant, in words."),
    excerpt: z.string().describe("The text around the first word that was found, as it stands there."),
    entryIds: z
      .array(Id)
      .describe("The entry it stands in; both entries of a bout for a voter's note; none for prompts and entrants."),
    promptKey: z.string().nullable(),
    entrantId: Id.nullable(),
  })
  .meta({ id: "SearchHit" });
export type SearchHit = z.infer<typeof SearchHit>;

/** Longer searches are refused: nobody types them. */
export const LONGEST_SEARCH = 200;

/** The words of a text as a search has them: what stands between signs that are neither letter nor digit, in lower case. */
export const splitWords = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== "");

export const SEARCH_OPERATIONS = {
  search: defineOperation({
    id: "search",
    method: "get",
    path: "/api/editions/:editionId/search",
    summary:
      "What of an edition has all the words, or words that begin with them: entrants, prompts, notes of judges and voters, findings, and answers with their code",
    params: z.object({ editionId: Id }),
    query: z.object({ words: z.string().max(LONGEST_SEARCH) }),
    response: z.array(SearchHit),
  }),
} as const;
