import * as z from "zod";
import { Instant, Key, Sha256 } from "./common.js";
import { ArtifactKind, Verdict } from "./entry.js";
import { Timings, Usage } from "./generation.js";

/** What a bundle is called in its manifest; another number is another layout. */
export const BUNDLE_FORMAT = "tourney-bundle/2";

/** `manifest.json`, the last file of a bundle: what is in it, and what its bytes must come to. */
export const BundleManifest = z
  .object({
    format: z.literal(BUNDLE_FORMAT),
    content: z
      .enum(["entries", "all"])
      .describe("Answers and artifacts alone, or everything that another Tourney needs."),
    madeAt: Instant,
    suite: z.object({ key: Key, title: z.string(), edition: z.int(), digest: Sha256 }),
    sample: z.boolean().describe("Whether any of it is sample data."),
    parts: z
      .array(z.object({ path: z.string(), bytes: z.int(), sha256: Sha256 }))
      .describe("Every other file of the bundle, in its order."),
    missing: z
      .array(z.object({ path: z.string(), sha256: Sha256 }))
      .describe("Files of entries, and pictures of recordings, that were not in the store any more."),
    underWay: z.int().describe("Generations and recordings that had not ended, and are not in it."),
  })
  .meta({ id: "BundleManifest" });
export type BundleManifest = z.infer<typeof BundleManifest>;

/** `entry.json` beside an entry's answer and artifact. */
export const BundledEntry = z
  .object({
    id: z.uuid(),
    prompt: Key,
    entrant: z.string().describe("Its key; an older version of it as key@number."),
    version: z.int(),
    take: z.int(),
    turn: z.int(),
    round: z.int().describe("0 is the first shot."),
    mends: z.int(),
    corrections: z.int(),
    editedByHand: z.boolean(),
    verdict: Verdict,
    kind: ArtifactKind,
    entryPath: z.string().nullable().describe("The page, within artifact/; null where there is none."),
    files: z.array(z.object({ path: z.string(), sha256: Sha256 })),
    requestedModel: z.string(),
    reportedModel: z.string().nullable(),
    finishReason: z.string().nullable(),
    usage: Usage.nullable(),
    timings: Timings.nullable(),
    costUsd: z.number().nullable(),
    answeredAt: Instant.nullable(),
    superseded: z.boolean().describe("Whether it was redone: it is kept, and does not count."),
  })
  .meta({ id: "BundledEntry" });
export type BundledEntry = z.infer<typeof BundledEntry>;
