import * as z from "zod";
import { Id, Instant } from "./common.js";
import { Entrant } from "./entrant.js";
import { defineOperation } from "./operation.js";

/** An entry that may stand beside another: of the same prompt, or of a variant of it. */
export const ComparableEntry = z
  .object({
    entryId: Id,
    promptId: Id,
    promptTitle: z.string(),
    isSamePrompt: z.boolean().describe("False for an entry of a variant of the prompt."),
    entrant: Entrant.pick({ id: true, name: true, glyph: true }),
    predecessorId: Id.nullable(),
    versionId: Id,
    version: z.int(),
    isPresent: z.boolean().describe("Whether the entrant is set up like this now."),
    take: z.int(),
    turn: z.int(),
    round: z.int(),
    mends: z.int(),
    corrections: z.int(),
    isByHand: z.boolean().describe("Changed by a person."),
    isSuperseded: z.boolean().describe("Another answer holds in its place."),
    isRecorded: z.boolean(),
    answeredAt: Instant.nullable(),
    costUsd: z.number().nullable(),
    won: z.int().describe("Ballots that preferred it on this prompt."),
    lost: z.int(),
    even: z.int(),
  })
  .meta({ id: "ComparableEntry" });
export type ComparableEntry = z.infer<typeof ComparableEntry>;

export const COMPARE_OPERATIONS = {
  listComparable: defineOperation({
    id: "listComparable",
    method: "get",
    path: "/api/entries/:entryId/comparable",
    summary: "What an entry can be put beside: all entries of its prompt and of the prompt's variants, itself included",
    params: z.object({ entryId: Id }),
    query: z.object({ edition: Id.optional() }),
    response: z.array(ComparableEntry),
  }),
} as const;
