import * as z from "zod";
import { Id, Instant } from "./common.js";
import { Kind } from "./suite.js";

/** In an address, a parameter that is there once is a text, and several times a list. */
const listOf = <T extends z.ZodType>(item: T) =>
  z.preprocess(
    (value): unknown => (value === undefined ? [] : Array.isArray(value) ? value : [value]),
    z.array(item).max(500),
  );

/**
 * Which ballots standings count, and how: the parameters of an address. What is left out of it limits nothing.
 */
export const WhatCounts = z
  .object({
    kind: listOf(Kind).describe("Kinds of prompts; none for all."),
    tag: listOf(z.string().min(1).max(60)).describe("Prompts with any of these tags; none for all."),
    prompt: listOf(z.string().min(1).max(80)).describe("Keys of prompts; none for all."),
    panel: listOf(Id).describe("None for all."),
    from: z.iso.date().optional().describe("The first day, in UTC."),
    to: z.iso.date().optional().describe("The last day, in UTC."),
    without: listOf(Id).describe("Voters whose ballots do not count, besides those that the lead left out."),
    versions: z
      .enum(["present", "all"])
      .default("present")
      .describe("Entrants as they are set up now, or older set-ups as competitors of their own, too."),
    broken: z
      .enum(["as_voted", "lose", "leave_out"])
      .default("as_voted")
      .describe(
        "Pages that show nothing: as people voted, or they lose to any that shows something, or they do not count.",
      ),
    undelivered: z
      .enum(["as_voted", "leave_out"])
      .default("as_voted")
      .describe("What was not delivered: as each panel had it, or it does not count."),
    pages: z
      .string()
      .regex(/^(?:first|(?:mended|turn)-(?:[1-9]|10))$/)
      .default("first")
      .describe(
        "First shots; or `mended-2`, pages after two mends at most, or `turn-1`, after the first turn, from the ballots of the panels that compare those.",
      ),
    variants: z.enum(["in", "out"]).default("in").describe("Prompts that are variants of others."),
  })
  .meta({ id: "WhatCounts" });
export type WhatCounts = z.output<typeof WhatCounts>;

/** All ballots count, as they were cast. */
export const EVERYTHING: WhatCounts = WhatCounts.parse({});

export const StandingsViewInput = z
  .object({ name: z.string().trim().min(1, "give it a name").max(60), counts: WhatCounts })
  .meta({ id: "StandingsViewInput" });
export type StandingsViewInput = z.output<typeof StandingsViewInput>;

/** A choice of what counts, under a name: it can be looked at in every edition of its suite. */
export const StandingsView = z
  .object({ id: Id, name: z.string(), counts: WhatCounts, createdAt: Instant })
  .meta({ id: "StandingsView" });
export type StandingsView = z.output<typeof StandingsView>;
