import { createHash } from "node:crypto";
import type { SuiteDefinition } from "@tourney/core/contract";
import { toCanonicalJson } from "@tourney/core/suite";

/** SHA-256 as hexadecimal digits. */
export const digestOf = (text: string): string => createHash("sha256").update(text).digest("hex");

/**
 * The digests by which an edition may be known: that of its canonical JSON, and that of the same suite as format version 1 had it, so that a
 * file that was frozen before version 2 still finds its edition.
 */
export function digestsOf(suite: SuiteDefinition): [string, string] {
  const prompts = suite.prompts.map(({ turns, ...prompt }) => ({ ...prompt, stages: turns }));
  return [
    digestOf(toCanonicalJson(suite)),
    digestOf(toCanonicalJson({ ...suite, format: "tourney-suite/1", prompts })),
  ];
}
