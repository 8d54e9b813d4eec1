import * as z from "zod";
import { Id } from "./common.js";
import { Entrant } from "./entrant.js";
import { Verdict } from "./entry.js";
import { Finding, Frame } from "./render.js";
import { EditionSummary, Prompt } from "./suite.js";

/** The state a cell shows; each is recognisable without colour. */
export const CellState = z.enum([
  "missing",
  "queued",
  "running",
  "held",
  "recording",
  "recorded",
  "failed",
  "refused",
  "no_artifact",
]);
export type CellState = z.infer<typeof CellState>;

export const WallCell = z
  .object({
    promptId: Id,
    entrantId: Id,
    take: z.int(),
    state: CellState,
    detail: z.string().nullable().describe("One line that says why, where something is wrong."),
    mismatch: z.boolean().describe("Another model answered than was asked for."),
    entryId: Id.nullable(),
    verdict: Verdict.nullable(),
    stale: z.boolean().describe("Recorded by an older renderer: not to be compared with newer recordings."),
    frames: z.array(Frame),
    motion: z.array(z.number()),
    findings: z.array(Finding.pick({ rule: true, severity: true, message: true })),
  })
  .meta({ id: "WallCell" });
export type WallCell = z.infer<typeof WallCell>;

export const Wall = z
  .object({
    edition: EditionSummary,
    prompts: z.array(Prompt.pick({ id: true, key: true, title: true, kind: true, viewport: true, seconds: true })),
    entrants: z.array(
      z.object({
        ...Entrant.pick({ id: true, key: true, name: true, maker: true, glyph: true, sample: true }).shape,
        byHand: z.boolean(),
        retired: z.boolean(),
        cleanShare: z.number().nullable().describe("Share of recorded first shots without an error finding, 0–1."),
        medianTotalMs: z.number().nullable(),
        costPerEntryUsd: z.number().nullable(),
      }),
    ),
    takes: z.int().describe("The most takes that any cell has."),
    take: z.int().describe("The take that the cells are of."),
    cells: z.array(WallCell).describe("Of one take, without those that are missing."),
  })
  .meta({ id: "Wall" });
export type Wall = z.infer<typeof Wall>;

export const WallQuery = z.object({ take: z.coerce.number().int().min(1).max(20).default(1) });

/** What a run is planned on: how much of each cell is there, without any of it. */
export const Grid = z
  .object({
    editionId: Id,
    prompts: z.array(Prompt.pick({ id: true, title: true, kind: true })),
    entrants: z.array(
      z.object({
        ...Entrant.pick({ id: true, name: true, glyph: true }).shape,
        byHand: z.boolean(),
        retired: z.boolean(),
      }),
    ),
    there: z.array(z.array(z.int())).describe("Takes that exist already, by prompt and then by entrant."),
  })
  .meta({ id: "Grid" });
export type Grid = z.infer<typeof Grid>;
